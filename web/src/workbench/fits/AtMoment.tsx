import type { ColumnFit } from '@apokinema/core/fitting'
import { timeOfFrame } from '@apokinema/core/scene'
import { measurement, significant } from '@apokinema/core/units'
import { Box, Flex, Grid, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useClock } from '../ClipContext.tsx'
import { useWorkbench } from '../workbenchStore.ts'

/** The value and slope of a fit at a time, also outside of its stretch, and the times at which it meets a level. */
export function AtMoment({ fit }: { fit: ColumnFit }) {
  const clock = useClock()
  const frame = useWorkbench((state) => state.frame)
  const [typed, setTyped] = useState<number | null>(null)
  const [level, setLevel] = useState<number | null>(0)
  const now = timeOfFrame(clock, frame)
  const time = typed ?? now
  const { value, slope } = fit.at(time)
  const met = level === null ? [] : fit.meets(level)
  const isOutside = time < fit.from || time > fit.to
  return (
    <Box fontSize="small" paddingTop="1" data-at-moment data-slope={slope.value}>
      <Flex gap="2">
        <Box width="7rem">
          <TextField
            label="At, s"
            value={significant(time, 5).replace('−', '-')}
            inputMode="decimal"
            onCommit={(text) => {
              const number = text === '' ? null : parseNumber(text)
              if (text !== '' && number === null) return 'A time in seconds.'
              setTyped(number)
              return null
            }}
          />
        </Box>
        <Box width="7rem">
          <TextField
            label={`Where it is, ${fit.unit || '1'}`}
            value={level === null ? '' : String(level)}
            placeholder="no level"
            inputMode="decimal"
            onCommit={(text) => {
              const number = text === '' ? null : parseNumber(text)
              if (text !== '' && number === null) return 'A number.'
              setLevel(number)
              return null
            }}
          />
        </Box>
      </Flex>
      <Grid templateColumns="auto 1fr" columnGap="4" marginTop="1">
        <Text color="ink.muted">value</Text>
        <Text fontFamily="mono">{measurement(value.value, value.error, value.unit)}</Text>
        <Text color="ink.muted">slope</Text>
        <Text fontFamily="mono">{measurement(slope.value, slope.error, slope.unit)}</Text>
      </Grid>
      <Text color="ink.muted">
        {typed === null ? 'At the current frame.' : ''}
        {isOutside && ' Outside the stretch: as if the motion went on like this.'}
      </Text>
      {level !== null && (
        <Box marginTop="1">
          {met.length === 0 && <Text color="ink.muted">It never has this value around here.</Text>}
          {met.map(({ time: at, slope: there }) => (
            <Grid key={at.value} templateColumns="auto 1fr" columnGap="4">
              <Text color="ink.muted">there at</Text>
              <Text fontFamily="mono">{measurement(at.value, at.error, at.unit)}</Text>
              <Text color="ink.muted">slope</Text>
              <Text fontFamily="mono">{measurement(there.value, there.error, there.unit)}</Text>
            </Grid>
          ))}
        </Box>
      )}
    </Box>
  )
}
