import { type ErrorSource, type Estimate, shares } from '@apokinema/core/fitting'
import { withUnit } from '@apokinema/core/units'
import { Box, Flex, Text } from '@chakra-ui/react'

const SOURCES: Record<ErrorSource, { name: string; colour: string }> = {
  marks: { name: 'marks', colour: '#0F5C5C' },
  placing: { name: 'ends of the reference', colour: '#6FA9A4' },
  length: { name: 'length of the reference', colour: '#C3D3CF' },
  depth: { name: 'depth of the reference', colour: '#A08F5C' },
  disagreement: { name: 'references that disagree', colour: '#B4654A' },
  motion: { name: 'known motion', colour: '#7A69A0' },
  camera: { name: 'landmarks', colour: '#5C7FA3' },
  origin: { name: 'origin of the axes', colour: '#7F9B6B' },
  tilt: { name: 'direction of the axes', colour: '#B08A4A' },
  gravity: { name: 'direction of falling', colour: '#8A6F5A' },
  timing: { name: 'clock', colour: '#8C8879' },
  stated: { name: 'stated values', colour: '#9A7B8F' },
}

/** How much of the error comes from where, as shares of its variance. */
export function Budget({ reading, advises = true }: { reading: Estimate; advises?: boolean }) {
  const parts = shares(reading).sort((a, b) => b.share - a.share)
  if (parts.length === 0) return null
  const [largest] = parts
  return (
    <Box marginTop="2" data-budget>
      <Flex height="7px" borderRadius="3px" overflow="hidden" aria-hidden>
        {parts.map(({ source, share }) => (
          <Box key={source} width={`${100 * share}%`} bg={SOURCES[source].colour} />
        ))}
      </Flex>
      <Text fontSize="13px" color="ink.muted" marginTop="1">
        Of the error:{' '}
        {parts
          .filter(({ share }) => share >= 0.005)
          .map(({ source, share }, i) => (
            <span key={source}>
              {i > 0 && ', '}
              {SOURCES[source].name}{' '}
              <span style={{ whiteSpace: 'nowrap' }}>{withUnit(String(Math.round(100 * share)), '%')}</span>
            </span>
          ))}
        . {advises && largest.share > MOST && ADVICE[largest.source]}
      </Text>
    </Box>
  )
}

/** From such a share on one source is the one to improve. */
const MOST = 0.5

/** What would make an error smaller. */
const ADVICE: Record<ErrorSource, string> = {
  marks: 'More marks, or marks set more carefully, would help most.',
  placing: 'Placing the ends of the reference again, at a large zoom, would help most.',
  length: 'Measuring the reference itself more closely would help most.',
  depth: 'A reference in the plane of the motion would help most.',
  disagreement: 'Finding out why the references disagree would help most.',
  motion: 'Knowing that motion more closely would help most.',
  camera: 'More landmarks, or a camera that stands still, would help most.',
  origin: 'Placing the origin again, at a large zoom, would help most.',
  tilt: 'Laying the axes along a longer line would help most.',
  gravity: 'Drawing along a longer plumb line would help most.',
  timing: 'A clip whose clock is better known would help most.',
  stated: 'Knowing masses and constants more closely would help most.',
}
