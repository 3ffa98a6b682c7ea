import { Box, type BoxProps, Button } from '@chakra-ui/react'
import { ChevronLeft, ChevronRight } from 'lucide-react'
import { useState } from 'react'
import { useAppearance } from '../theme/appearance.ts'

/**
 * A column beside the middle of a view; in a narrow window it stands above or below, over the full width. On a projector
 * it is folded to its name until it is opened, so that the middle has the room.
 */
export function SideColumn({
  label,
  side,
  width,
  narrow = width,
  isUsed = false,
  isContents = false,
  children,
  ...box
}: {
  label: string
  side: 'left' | 'right'
  /** Where the columns stand side by side; `narrow` where there is little room, that is the wide one if not given. */
  width: string
  narrow?: string
  /** Whether it is opened on a projector, too: what it shows is wanted. */
  isUsed?: boolean
  /** Whether its parts stand among those of the view in a narrow window. */
  isContents?: boolean
} & Omit<BoxProps, 'width' | 'display'>) {
  const isProjected = useAppearance((now) => now.isProjected)
  const [chosen, setChosen] = useState<boolean | null>(null)
  const isOpen = chosen ?? isUsed
  const isFolded = isProjected && !isOpen
  const edge = { [`border${side === 'left' ? 'Right' : 'Left'}`]: '1px solid', borderColor: 'line' }
  const Towards = (side === 'left') === isFolded ? ChevronRight : ChevronLeft
  return (
    <>
      {isProjected && (
        <Button
          variant="plain"
          aria-expanded={isOpen}
          hideBelow="lg"
          flex="none"
          height="100%"
          minWidth="0"
          width="7"
          paddingY="3"
          gap="2"
          justifyContent="flex-start"
          borderRadius="0"
          bg="panel"
          color="ink.muted"
          fontSize="small"
          fontWeight="600"
          css={{ writingMode: 'vertical-rl' }}
          {...edge}
          onClick={() => setChosen(!isOpen)}
        >
          <Towards size={16} />
          {label}
        </Button>
      )}
      <Box
        as="aside"
        aria-label={label}
        width={{ base: '100%', lg: narrow, xl: width }}
        flex="none"
        bg="panel"
        overflowY={{ lg: 'auto' }}
        {...edge}
        {...box}
        display={{ base: isContents ? 'contents' : 'block', lg: isFolded ? 'none' : 'block' }}
      >
        {children}
      </Box>
    </>
  )
}
