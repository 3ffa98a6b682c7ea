import { edits } from '@apokinema/core/investigation'
import { stretchLaw } from '@apokinema/words/proposals'
import { Box } from '@chakra-ui/react'
import { useSession } from '../../document/SessionContext.tsx'
import { useProposedSpan } from '../survey/useProposedSpan.ts'
import { workbench } from '../workbenchStore.ts'
import { takeStretch } from './ProposedStretches.tsx'
import { useProposedStretches } from './useBodyProposals.ts'

/** Where a band stands on the strip. */
interface Place {
  xOf: (frame: number) => number
  top: number
  height: number
}

/** Proposed frames as bands on the strip: stretches of the active body, or else where the clip moves. A click accepts one. */
export function ProposedBands(place: Place) {
  const session = useSession()
  const span = useProposedSpan()
  const stretches = useProposedStretches()
  if (stretches.length > 0)
    return stretches.map((stretch) => (
      <ProposedBand
        key={stretch.from}
        {...place}
        first={stretch.from}
        last={stretch.to}
        label={stretchLaw(stretch)}
        says={`Use frames ${stretch.from} to ${stretch.to}: ${stretchLaw(stretch)}`}
        onClick={() => takeStretch(session, stretch)}
      />
    ))
  if (!span) return null
  return (
    <ProposedBand
      {...place}
      first={span.first}
      last={span.last}
      label="moves here: use"
      says={`moves here: use frames ${span.first} to ${span.last}`}
      isSpan
      onClick={() => {
        session.edit('use the proposed span', edits.setSpan(span))
        workbench.goTo(span.first)
      }}
    />
  )
}

function ProposedBand({
  xOf,
  top,
  height,
  first,
  last,
  label,
  says,
  isSpan = false,
  onClick,
}: Place & {
  first: number
  last: number
  label: string
  says: string
  isSpan?: boolean
  onClick: () => void
}) {
  const left = xOf(first)
  return (
    <Box
      as="button"
      position="absolute"
      left={`${left}px`}
      width={`${Math.max(6, xOf(last) - left)}px`}
      top={`${top}px`}
      height={`${height}px`}
      border="2px dashed"
      borderColor="petrol"
      bg="stretch.drawn"
      borderRadius="4px"
      cursor="pointer"
      overflow="hidden"
      title={says}
      aria-label={says}
      {...(isSpan && { 'data-proposed-span': `${first}-${last}` })}
      onPointerDown={(event) => event.stopPropagation()}
      onClick={onClick}
    >
      <Box
        as="span"
        bg="petrol.solid"
        color="white"
        fontSize="tiny"
        fontWeight="600"
        paddingX="2"
        paddingY="0.5"
        borderRadius="4px"
        whiteSpace="nowrap"
      >
        {label}
      </Box>
    </Box>
  )
}
