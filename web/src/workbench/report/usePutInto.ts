import { type BlockContent, edits } from '@apokinema/core/investigation'
import { useCallback } from 'react'
import { useNavigate } from 'react-router'
import { v4 as uuid } from 'uuid'
import { notify } from '../../common/messages.tsx'
import type { ReportSession } from './source.ts'

/**
 * Returns a function that adds a block at the end of a report, and offers to open it there.
 *
 * @param address of the report in this application
 */
export function usePutInto(session: ReportSession, address: string): (content: BlockContent) => void {
  const navigate = useNavigate()
  return useCallback(
    (content) => {
      session.edit('put something into the report', edits.appendBlocks([[uuid(), content]]))
      notify('It is in the report now.', {
        label: 'Open the report',
        onClick: () => void navigate(address),
      })
    },
    [session, navigate, address],
  )
}
