import { Box, type BoxProps } from '@chakra-ui/react'

/** A column beside the middle of a view; in a narrow window it stands above or below, over the full width. */
export function SideColumn({
  label,
  side,
  width,
  narrow = width,
  ...box
}: {
  label: string
  side: 'left' | 'right'
  /** Where the columns stand side by side; `narrow` where there is little room, that is the wide one if not given. */
  width: string
  narrow?: string
} & Omit<BoxProps, 'width'>) {
  const inner = side === 'left' ? 'Right' : 'Left'
  return (
    <Box
      as="aside"
      aria-label={label}
      width={{ base: '100%', lg: narrow, xl: width }}
      flex="none"
      bg="panel"
      {...{ [`border${inner}`]: '1px solid' }}
      borderColor="line"
      overflowY={{ lg: 'auto' }}
      {...box}
    />
  )
}
