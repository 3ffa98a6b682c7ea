import { Button, Flex } from '@chakra-ui/react'
import { useSession } from '../../document/SessionContext.tsx'
import { followProposed } from '../following/followProposed.ts'
import { refuseBody } from '../proposals/proposedActions.ts'
import { useWorkbench, type View } from '../workbenchStore.ts'
import { ghostPlace, useGhosts } from './overlay/Ghosts.tsx'

/** Size of the chip in CSS pixels, and its distance from the outline. */
const CHIP = { width: 176, height: 32, apart: 10 }

/** Beside the outline of the most convincing thing that moves: to follow it or not. */
export function GhostChip({ view, stage }: { view: View; stage: { width: number; height: number } }) {
  const session = useSession()
  const [proposed] = useGhosts()
  const frame = useWorkbench((state) => state.shown ?? state.frame)
  if (!proposed) return null
  const place = ghostPlace(proposed, frame)
  const radius = Math.max(...proposed.outline.radii) * view.zoom
  const at = { x: place.x * view.zoom + view.x, y: place.y * view.zoom + view.y }
  const within = (value: number, most: number) => Math.max(4, Math.min(most - 4, value))
  const above = at.y - radius - CHIP.apart - CHIP.height
  const top = above > CHIP.height ? above : at.y + radius + CHIP.apart
  return (
    <Flex
      position="absolute"
      left={`${within(at.x - CHIP.width / 2, stage.width - CHIP.width)}px`}
      top={`${within(top, stage.height - CHIP.height)}px`}
      width={`${CHIP.width}px`}
      height={`${CHIP.height}px`}
      align="center"
      justify="center"
      bg="panel"
      borderRadius="8px"
      boxShadow="0 1px 4px rgba(0,0,0,0.5)"
      cursor="default"
      data-ghost-chip
      onPointerDown={(event) => event.stopPropagation()}
    >
      <Button size="xs" variant="ghost" color="petrol" onClick={() => void followProposed(session, proposed)}>
        Follow this?
      </Button>
      <Button size="xs" variant="ghost" color="ink.muted" onClick={() => refuseBody(session, proposed)}>
        No
      </Button>
    </Flex>
  )
}
