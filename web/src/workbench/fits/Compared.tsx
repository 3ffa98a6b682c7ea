import {
  compare,
  comparePair,
  type ExpectedValue,
  expectedByExpression,
  gravityAt,
} from '@apokinema/core/fitting'
import { type Against, edits, type Investigation } from '@apokinema/core/investigation'
import { ExpressionError } from '@apokinema/core/motion'
import { fixed, measurement, parseUnit, significant, withUnit } from '@apokinema/core/units'
import { Box, Button, HStack, IconButton, Text } from '@chakra-ui/react'
import { Ellipsis } from 'lucide-react'
import { useContext } from 'react'
import { Pop } from '../../common/Pop.tsx'
import { Select } from '../../common/Select.tsx'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { AllFits } from './AllFits.tsx'
import { Explain } from './Explain.tsx'
import type { ShownFit } from './fits.ts'
import { SCHOOL_G } from './gravity.ts'
import { type NamedReading, readingsOf, unitFactor } from './ReadingBox.tsx'

/** A reading beside what is expected of it: what that is, and how far they are apart. */
export function Compared({ shown, reading }: { shown: ShownFit; reading: NamedReading }) {
  const { id, settings } = shown
  const session = useSession()
  const investigation = useInvestigation()
  const others = useContext(AllFits)
  const against = settings.expected?.against ?? null
  const set = (chosen: Against | null) =>
    session.edit(
      'change the expected value',
      edits.changeFit(id, { expected: { reading: reading.id, against: chosen } }),
    )
  const factor = unitFactor(reading.unit)
  const isAcceleration =
    parseUnit(reading.unit)?.dimension.length === 1 && parseUnit(reading.unit)?.dimension.time === -2
  const g = (value: number, label: string) =>
    set({ kind: 'value', value: reading.value < 0 ? -value : value, error: 0, label })
  const take = (text: string): string | null => {
    if (text === '') {
      set(null)
      return null
    }
    const [value, error = 0] = text.split(/±|\+-|\+\/-/).map(parseNumber)
    if (value !== null && error !== null && error >= 0) {
      set({ kind: 'value', value: value * factor, error: error * factor, label: '' })
      return null
    }
    try {
      expectedByExpression(investigation, text, reading.unit)
    } catch (trouble) {
      if (trouble instanceof ExpressionError) return trouble.message
      throw trouble
    }
    set({ kind: 'expression', expression: text })
    return null
  }
  const expected = expectedOf(investigation, against, reading.unit)
  const missed = expected && isMissed(reading, expected) ? expected : null
  const elsewhere = others.flatMap(({ id: fit2, settings: { name, stretch }, all }) => {
    if (all.length === 0) return []
    const { number } = investigation.stretches[stretch]
    return readingsOf(all)
      .filter((one) => (fit2 !== id || one.id !== reading.id) && areAlikeUnits(one.unit, reading.unit))
      .map((one) => [`${fit2} ${one.id}`, `${number}: ${name || all[0].name}, ${one.name}`] as const)
  })
  const chosen = against?.kind === 'reading' ? `${against.fit} ${against.reading}` : ''
  return (
    <Box marginTop="2">
      <HStack gap="2" align="flex-end">
        <Box flex="1" minWidth="0">
          <TextField
            label={`Expected${reading.unit && `, ${reading.unit}`}`}
            value={expectedText(against, factor)}
            placeholder={against ? 'another reading' : 'none'}
            title="A number, a number ± its error, or an expression such as sqrt(g/L)"
            onCommit={take}
          />
        </Box>
        {isAcceleration && against?.kind !== 'value' && (
          <Button size="xs" variant="outline" bg="panel" onClick={() => g(SCHOOL_G, 'g')}>
            g, {fixed(SCHOOL_G, 2)}
          </Button>
        )}
        <Pop
          placement="bottom-end"
          width="17rem"
          button={
            <IconButton size="xs" variant="outline" bg="panel" aria-label="More to compare it with">
              <Ellipsis size={14} />
            </IconButton>
          }
        >
          {isAcceleration && (
            <TextField
              label="g at a latitude, degrees"
              value=""
              placeholder="53.5"
              inputMode="decimal"
              onCommit={(text) => {
                if (text === '') return null
                const latitude = parseNumber(text)
                if (latitude === null || Math.abs(latitude) > 90) return 'From −90 to 90.'
                g(gravityAt(latitude), `g at ${latitude}°`)
                return null
              }}
            />
          )}
          {elsewhere.length > 0 && (
            <Box>
              <Text fontSize="13px" color="ink.muted">
                Another reading
              </Text>
              <Select
                label="Compare it with another reading"
                value={chosen}
                options={[['', 'none'], ...elsewhere]}
                choose={(one) => {
                  const [other, key] = one.split(' ')
                  set(one === '' ? null : { kind: 'reading', fit: other, reading: key, factor: 1 })
                }}
              />
            </Box>
          )}
          <Text fontSize="13px" color="ink.muted">
            In the field: a number, a number ± its error, or an expression of constants and probes such as
            sqrt(g/L).
          </Text>
          {against && (
            <Button size="xs" variant="outline" alignSelf="flex-start" onClick={() => set(null)}>
              Compare it with nothing
            </Button>
          )}
        </Pop>
      </HStack>
      {against && (
        <Text fontSize="13px" marginTop="1" data-comparison>
          {comparisonOf(investigation, reading, against, others)}
        </Text>
      )}
      {missed && <Explain shown={shown} reading={reading} expected={missed} />}
    </Box>
  )
}

function expectedText(against: Against | null, factor: number): string {
  if (!against || against.kind === 'reading') return ''
  if (against.kind === 'expression') return against.expression
  const { value, error } = against
  const shown = (number: number) => String(Number((number / factor).toPrecision(8)))
  return error > 0 ? `${shown(value)} ± ${shown(error)}` : shown(value)
}

const areAlikeUnits = (a: string, b: string) => {
  const [one, other] = [parseUnit(a), parseUnit(b)]
  if (!one || !other) return a === b
  return (['mass', 'length', 'time'] as const).every((key) => one.dimension[key] === other.dimension[key])
}

/** A sentence that neither overclaims nor scolds. */
function comparisonOf(
  investigation: Investigation,
  reading: NamedReading,
  against: Against,
  others: readonly ShownFit[],
): string {
  if (against.kind === 'reading') {
    const shown = others.find(({ id }) => id === against.fit)
    const other = shown && readingsOf(shown.all).find(({ id }) => id === against.reading)
    if (!other) return 'The other reading is not there any more.'
    const factor = (against.factor * unitFactor(other.unit)) / unitFactor(reading.unit)
    const { percent, standardErrors, difference, error, correlation } = comparePair(reading, other, factor)
    const shared =
      Math.abs(correlation) > 0.3 ? ' Both rest in part on the same marks or scale; that is reckoned in.' : ''
    return `${apart(percent, standardErrors)}. Difference ${measurement(difference, error, reading.unit)}.${shared}`
  }
  try {
    const told = toldBy(investigation, against, reading.unit)
    const { percent, standardErrors, bySize } = compare(reading, told.value, told.error)
    const beside =
      against.kind === 'expression' ? ` It gives ${measurement(told.value, told.error, reading.unit)}.` : ''
    const sizes = bySize
      ? ` Sizes compared: ${reading.value < 0 ? 'the reading points along the negative axis' : 'the expected value has the other sign'}.`
      : ''
    return `${apart(percent, standardErrors)}.${beside}${sizes}`
  } catch (trouble) {
    if (trouble instanceof ExpressionError) return trouble.message
    throw trouble
  }
}

/** What is expected, in a unit; throws an ExpressionError where it can't be told. */
function toldBy(
  investigation: Investigation,
  against: Exclude<Against, { kind: 'reading' }>,
  unit: string,
): ExpectedValue {
  const factor = unitFactor(unit)
  return against.kind === 'value'
    ? { value: against.value / factor, error: against.error / factor }
    : expectedByExpression(investigation, against.expression, unit)
}

/** The same; null where there is nothing, or it can't be told. */
function expectedOf(
  investigation: Investigation,
  against: Against | null,
  unit: string,
): ExpectedValue | null {
  if (!against || against.kind === 'reading') return null
  try {
    return toldBy(investigation, against, unit)
  } catch (trouble) {
    if (trouble instanceof ExpressionError) return null
    throw trouble
  }
}

/** Combined standard errors from which on a reading misses what is expected. */
const MISSED = 2

const isMissed = (reading: NamedReading, { value, error }: ExpectedValue) =>
  (compare(reading, value, error).standardErrors ?? 0) > MISSED

function apart(percent: number | null, standardErrors: number | null): string {
  const parts = [
    percent === null ? null : `${withUnit(significant(percent, 2), '%')} off`,
    standardErrors === null ? null : `${fixed(standardErrors, 1)} standard errors`,
  ].filter((part) => part !== null)
  const verdict =
    standardErrors === null
      ? ''
      : standardErrors <= 2
        ? ' – agrees within its error'
        : standardErrors <= 3
          ? ' – agrees just about'
          : ' – does not agree within its error'
  return `${parts.join(', ')}${verdict}`
}
