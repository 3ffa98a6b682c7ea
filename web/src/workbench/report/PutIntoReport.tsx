import { IconButton } from '@chakra-ui/react'
import { FileInput } from 'lucide-react'

/** The button that puts something into the report in one click. */
export function PutIntoReport({ what, put }: { what: string; put: () => void }) {
  return (
    <IconButton
      size="2xs"
      variant="ghost"
      aria-label={`Put ${what} into the report`}
      title="Put into the report"
      onClick={put}
    >
      <FileInput size={14} />
    </IconButton>
  )
}
