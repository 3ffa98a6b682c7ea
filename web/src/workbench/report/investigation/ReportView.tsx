import { useLayoutEffect, useMemo, useRef } from 'react'
import { useSession } from '../../../document/SessionContext.tsx'
import { useClip } from '../../ClipContext.tsx'
import { ReportPage } from '../ReportPage.tsx'
import { SourceProvider } from '../source.ts'
import { investigationSource } from './investigationSource.ts'

/** The report of the open investigation. */
export default function ReportView() {
  const session = useSession()
  const opened = useClip()
  const clip = useRef(opened)
  useLayoutEffect(() => {
    clip.current = opened
  }, [opened])
  const source = useMemo(() => investigationSource(session, () => clip.current), [session])
  return (
    <SourceProvider value={source}>
      <ReportPage />
    </SourceProvider>
  )
}
