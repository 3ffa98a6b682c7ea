import { edits } from '@apokinema/core/investigation'
import { markErrorOf } from '@apokinema/core/motion'
import { frameCount, proposedStep } from '@apokinema/core/time'
import { Box } from '@chakra-ui/react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { workbench } from '../workbenchStore.ts'
import { useSurveyed } from './useSurvey.ts'

/** Returns the proposed span in which the clip moves, as long as nobody has chosen one. */
export function useProposedSpan(): { first: number; last: number; every: number } | null {
  const { span, footage, bodies } = useInvestigation()
  const surveyed = useSurveyed()
  if (!footage || !surveyed?.motion) return null
  const last = frameCount(footage.ticks) - 1
  const untouched = span.first === 0 && span.last === last && span.every === 1
  const { from, to } = surveyed.motion
  if (!untouched || (from <= 1 && to >= last - 1)) return null
  const [body] = Object.values(bodies)
  const every = proposedStep(to - from + 1, surveyed.speed || null, body ? markErrorOf(body) : undefined)
  return { first: from, last: to, every }
}

/** The proposed span as a band on the strip; a click accepts it. */
export function MotionBand({
  xOf,
  top,
  height,
}: {
  xOf: (frame: number) => number
  top: number
  height: number
}) {
  const session = useSession()
  const proposed = useProposedSpan()
  if (!proposed) return null
  const left = xOf(proposed.first)
  return (
    <Box
      as="button"
      position="absolute"
      left={`${left}px`}
      width={`${Math.max(6, xOf(proposed.last) - left)}px`}
      top={`${top}px`}
      height={`${height}px`}
      border="2px dashed"
      borderColor="petrol"
      bg="rgba(15,92,92,0.16)"
      borderRadius="4px"
      cursor="pointer"
      overflow="hidden"
      title={`It seems to move in frames ${proposed.first} to ${proposed.last}. Click to use them.`}
      aria-label={`Use frames ${proposed.first} to ${proposed.last}, in which it seems to move`}
      data-proposed-span={`${proposed.first}-${proposed.last}`}
      onPointerDown={(event) => event.stopPropagation()}
      onClick={() => {
        session.edit('use the proposed span', edits.setSpan(proposed))
        workbench.goTo(proposed.first)
      }}
    >
      <Box
        as="span"
        bg="petrol"
        color="white"
        fontSize="12px"
        fontWeight="600"
        paddingX="2"
        paddingY="0.5"
        borderRadius="4px"
        whiteSpace="nowrap"
      >
        moves here: use
      </Box>
    </Box>
  )
}
