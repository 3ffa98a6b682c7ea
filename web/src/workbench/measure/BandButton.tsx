import { Button } from '@chakra-ui/react'

/** A button in a line above the stage. */
export function BandButton({
  label,
  primary = false,
  title,
  expanded,
  onClick,
}: {
  label: string
  primary?: boolean
  title?: string
  /** Whether what the button opens is open. */
  expanded?: boolean
  onClick: () => void
}) {
  const look = primary
    ? { colorPalette: 'brand' }
    : {
        variant: 'outline' as const,
        color: 'white',
        borderColor: 'whiteAlpha.500',
        _hover: { bg: 'whiteAlpha.200' },
        _expanded: { bg: 'whiteAlpha.300' },
      }
  return (
    <Button size="2xs" {...look} title={title} aria-expanded={expanded} onClick={onClick}>
      {label}
    </Button>
  )
}
