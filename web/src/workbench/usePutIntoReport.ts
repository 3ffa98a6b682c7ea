import { type BlockContent, edits } from '@apokinema/core/investigation'
import { useCallback } from 'react'
import { useNavigate } from 'react-router'
import { v4 as uuid } from 'uuid'
import { notify } from '../common/messages.tsx'
import { useSession } from '../document/SessionContext.tsx'

/** Returns a function that adds a block at the end of the report, and offers to open it there. */
export function usePutIntoReport(): (content: BlockContent) => void {
  const session = useSession()
  const navigate = useNavigate()
  return useCallback(
    (content) => {
      session.edit('put something into the report', edits.appendBlocks([[uuid(), content]]))
      notify('It is in the report now.', {
        label: 'Open the report',
        onClick: () => void navigate(`/investigations/${session.id}/report`),
      })
    },
    [session, navigate],
  )
}
