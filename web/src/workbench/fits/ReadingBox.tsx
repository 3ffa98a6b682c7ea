import type { GraphFit } from '@apokinema/core/analysis'
import {
  type ColumnFit,
  type Estimate,
  type NamedReading,
  namedReadings,
  STANDARD_GRAVITY,
  throwPath,
} from '@apokinema/core/fitting'
import { edits, type Fit } from '@apokinema/core/investigation'
import { measurement, metresWithin } from '@apokinema/core/units'
import { Box, Text } from '@chakra-ui/react'
import { v4 as uuid } from 'uuid'
import { parseMeasured, TextField } from '../../common/TextField.tsx'
import { useSession } from '../../document/SessionContext.tsx'
import { Budget } from './Budget.tsx'
import { Compared } from './Compared.tsx'
import { Formula } from './Formula.tsx'
import { OtherReadings } from './OtherReadings.tsx'
import { ReadingHeading } from './ReadingHeading.tsx'

/** The readings of a fit, the comparison with the expected value, and the error budget. */
export function ReadingBox({ shown, fit }: { shown: GraphFit; fit: ColumnFit }) {
  const session = useSession()
  const { id, settings, all } = shown
  const readings = namedReadings(all)
  const compared = readings.find((one) => one.id === settings.expected?.reading) ?? readings[0]
  const [reading, ...others] = [compared, ...readings.filter((one) => one !== compared)]
  const path = throwPath(all)
  const gs = inG(reading)
  const compareInstead = (one: NamedReading) =>
    session.edit(
      'read another quantity off the fit',
      edits.changeFit(id, { expected: { reading: one.id, against: null } }),
    )
  // Angles and pure numbers have no length in their unit.
  const isInPixels = reading.unit.includes('px')
  return (
    <Box bg="petrol.tint" borderRadius="8px" padding="3" marginTop="2">
      <ReadingHeading
        name={reading.name}
        estimate={reading}
        says="As many parameters as points: no scatter is left to tell an error from."
        data-reading={reading.id}
      />
      {gs && (
        <Text fontSize="small" color="ink.muted">
          = {gs}
        </Text>
      )}
      {isInPixels ? (
        <KnownMotion fit={fit} settings={settings} />
      ) : (
        <Compared shown={shown} reading={reading} />
      )}
      <Budget reading={reading} advises={isSound(fit)} />
      {others.length > 0 && <OtherReadings readings={others} choose={compareInstead} />}
      {path && (
        <Box marginTop="2" fontSize="small">
          <Text color="ink.muted">Path, in {fit.unit}</Text>
          <Formula tex={path} />
        </Box>
      )}
    </Box>
  )
}

/** Reduced chi-square above which the model, not the marks, has to be improved. */
const UNSOUND = 4

const isSound = ({ solution }: ColumnFit) => !((solution.reducedChiSquare ?? 0) > UNSOUND)

/** Returns an acceleration in units of g; null for other quantities. */
function inG({ value, error, unit }: Estimate): string | null {
  const metres = metresWithin(unit)
  if (metres === null || !unit.endsWith('/s²')) return null
  const g = STANDARD_GRAVITY / metres
  return measurement(value / g, error / g, 'g')
}

/** While lengths are in pixels: sets the scale by a known motion. */
function KnownMotion({ fit, settings }: { fit: ColumnFit; settings: Fit }) {
  const session = useSession()
  const derivative = fit.model.id === 'uniform' ? 1 : 2
  if (!['uniform', 'uniform-acceleration'].includes(fit.model.id)) return null
  const unit = derivative === 1 ? 'm/s' : 'm/s²'
  return (
    <Box marginTop="2">
      <Text fontSize="small" color="ink.muted">
        In pixels there is nothing to compare it with: set a scale under Measure. Or is this motion known,
        from a game or a film, say? Then it gives the scale.
      </Text>
      <Box width="11rem">
        <TextField
          label={`It is known to be, ${unit}`}
          placeholder={derivative === 1 ? '2.5 ± 0.1' : '9.81 ± 0.02'}
          value=""
          onCommit={(text) => {
            if (text === '') return null
            const measured = parseMeasured(text)
            if (!measured || measured.value === 0) return 'A number such as 9.81 ± 0.02.'
            session.edit(
              'set the scale by a known motion',
              edits.setKnownMotion(uuid(), {
                stretch: settings.stretch,
                derivative,
                value: Math.abs(measured.value),
                error: measured.error,
              }),
            )
            return null
          }}
        />
      </Box>
    </Box>
  )
}
