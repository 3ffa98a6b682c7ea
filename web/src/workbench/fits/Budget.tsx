import { type ErrorSource, type Estimate, shares } from '@apokinema/core/fitting'
import { withUnit } from '@apokinema/core/units'
import { ERROR_ADVICE, ERROR_SOURCES } from '@apokinema/words/errorSources'
import { Box, Flex, Text } from '@chakra-ui/react'

const COLOURS: Record<ErrorSource, string> = {
  marks: '#0F5C5C',
  scatter: '#2F4F63',
  following: '#3F7F7A',
  placing: '#6FA9A4',
  length: '#C3D3CF',
  depth: '#A08F5C',
  disagreement: '#B4654A',
  motion: '#7A69A0',
  camera: '#5C7FA3',
  origin: '#7F9B6B',
  tilt: '#B08A4A',
  gravity: '#8A6F5A',
  timing: '#8C8879',
  stated: '#9A7B8F',
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
          <Box key={source} width={`${100 * share}%`} bg={COLOURS[source]} />
        ))}
      </Flex>
      <Text fontSize="small" color="ink.muted" marginTop="1">
        Of the error:{' '}
        {parts
          .filter(({ share }) => share >= 0.005)
          .map(({ source, share }, i) => (
            <span key={source}>
              {i > 0 && ', '}
              {ERROR_SOURCES[source]}{' '}
              <span style={{ whiteSpace: 'nowrap' }}>{withUnit(String(Math.round(100 * share)), '%')}</span>
            </span>
          ))}
        . {advises && largest.share > MOST && ERROR_ADVICE[largest.source]}
      </Text>
    </Box>
  )
}

/** Minimum share of the total variance at which one error source is named as the one to improve. */
const MOST = 0.5
