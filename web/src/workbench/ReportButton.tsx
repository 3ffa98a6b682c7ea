import type { BlockContent } from '@apokinema/core/investigation'
import { IconButton } from '@chakra-ui/react'
import { FileInput } from 'lucide-react'
import { usePutIntoReport } from './usePutIntoReport.ts'

/** Puts something into the report in one click. */
export function ReportButton({ what, content }: { what: string; content: BlockContent }) {
  const putIntoReport = usePutIntoReport()
  return (
    <IconButton
      size="2xs"
      variant="ghost"
      aria-label={`Put ${what} into the report`}
      title="Put into the report"
      onClick={() => putIntoReport(content)}
    >
      <FileInput size={14} />
    </IconButton>
  )
}
