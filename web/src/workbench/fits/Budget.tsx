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

/** The error budget: each source's share of the variance. */
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

/** Minimum share of the total variance at which one error source is named as the one to improve. */
const MOST = 0.5

/** How to reduce the largest error source. */
const ADVICE: Record<ErrorSource, string> = {
  marks: 'Biggest error source: the marks. Add marks or place them more precisely.',
  placing: 'Biggest error source: the ends of the reference. Zoom in and place them again.',
  length: 'Biggest error source: the length of the reference. Measure it more precisely.',
  depth: 'Biggest error source: the depth of the reference. Use one in the plane of the motion.',
  disagreement: 'Biggest error source: the references disagree. Find out why.',
  motion: 'Biggest error source: the known motion. State it more precisely.',
  camera: 'Biggest error source: the moving camera. Add landmarks, or film with a fixed camera.',
  origin: 'Biggest error source: the origin. Zoom in and place it again.',
  tilt: 'Biggest error source: the tilt of the axes. Lay them along a longer line.',
  gravity: 'Biggest error source: the direction of gravity. Draw along a longer plumb line.',
  timing: 'Biggest error source: the frame rate.',
  stated: 'Biggest error source: stated masses and constants. State them more precisely.',
}
