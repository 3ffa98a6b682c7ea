import type { BlockContent } from '@apokinema/core/investigation'
import { PutIntoReport } from './report/PutIntoReport.tsx'
import { usePutIntoReport } from './usePutIntoReport.ts'

/** Puts something into the report of the open investigation in one click. */
export function ReportButton({ what, content }: { what: string; content: BlockContent }) {
  const putIntoReport = usePutIntoReport()
  return <PutIntoReport what={what} put={() => putIntoReport(content)} />
}
