import type { BlockContent } from '@apokinema/core/investigation'
import { PutIntoReport } from '../../workbench/report/PutIntoReport.tsx'
import { usePutIntoReport } from './usePutIntoReport.ts'

/** Puts something into the report of the open series in one click. */
export function TrialsReportButton({ what, content }: { what: string; content: BlockContent }) {
  const putIntoReport = usePutIntoReport()
  return <PutIntoReport what={what} put={() => putIntoReport(content)} />
}
