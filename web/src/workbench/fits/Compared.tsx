import { analyse, expectedOf, type GraphFit } from '@apokinema/core/analysis'
import { gravityAt, isMissed, type NamedReading, namedReadings } from '@apokinema/core/fitting'
import { type Against, edits } from '@apokinema/core/investigation'
import { areAlike } from '@apokinema/core/motion'
import { fixed, parseUnit } from '@apokinema/core/units'
import { comparisonText, pairText } from '@apokinema/words/comparisons'
import { Box, Button, HStack, IconButton, Text } from '@chakra-ui/react'
import { Ellipsis } from 'lucide-react'
import { v4 as uuid } from 'uuid'
import { Pop } from '../../common/Pop.tsx'
import { Select } from '../../common/Select.tsx'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { ExpectedField } from './ExpectedField.tsx'
import { Explain } from './Explain.tsx'
import { SCHOOL_G } from './gravity.ts'
import { type StretchValue, stretchValues } from './stretchValues.ts'

/** A reading compared with what is expected of it. */
export function Compared({ shown, reading }: { shown: GraphFit; reading: NamedReading }) {
  const { id, settings } = shown
  const session = useSession()
  const investigation = useInvestigation()
  const others = analyse(investigation).allFits()
  const against = settings.expected?.against ?? null
  const set = (chosen: Against | null) =>
    session.edit(
      'change the expected value',
      edits.changeFit(id, { expected: { reading: reading.id, against: chosen } }),
    )
  const isAcceleration =
    parseUnit(reading.unit)?.dimension.length === 1 && parseUnit(reading.unit)?.dimension.time === -2
  const setG = (value: number, label: string) =>
    set({ kind: 'value', value: reading.value < 0 ? -value : value, error: 0, label })
  const expected = expectedOf(investigation, against, reading.unit)
  const missed = expected && isMissed(reading, expected) ? expected : null
  const other =
    against?.kind === 'reading' &&
    namedReadings(others.find(({ id: one }) => one === against.fit)?.all ?? []).find(
      ({ id: one }) => one === against.reading,
    )
  return (
    <Box marginTop="2">
      <HStack gap="2" align="flex-end">
        <Box flex="1" minWidth="0">
          <ExpectedField investigation={investigation} unit={reading.unit} against={against} set={set} />
        </Box>
        {isAcceleration && against?.kind !== 'value' && (
          <Button size="xs" variant="outline" bg="panel" onClick={() => setG(SCHOOL_G, 'g')}>
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
          {isAcceleration && <LatitudeField setG={setG} />}
          <OtherReading shown={shown} reading={reading} against={against} set={set} />
          <ToleranceField />
          <Text fontSize="small" color="ink.muted">
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
        <Text fontSize="small" marginTop="1" data-comparison>
          {against.kind === 'reading'
            ? other
              ? pairText(investigation, reading, other, against.factor)
              : 'The other reading is not there any more.'
            : comparisonText(investigation, reading, against)}
        </Text>
      )}
      {missed && <Explain shown={shown} reading={reading} expected={missed} />}
    </Box>
  )
}

function LatitudeField({ setG }: { setG(value: number, label: string): void }) {
  return (
    <TextField
      label="g at a latitude, degrees"
      value=""
      placeholder="53.5"
      inputMode="decimal"
      onCommit={(text) => {
        if (text === '') return null
        const latitude = parseNumber(text)
        if (latitude === null || Math.abs(latitude) > 90) return 'From −90 to 90.'
        setG(gravityAt(latitude), `g at ${latitude}°`)
        return null
      }}
    />
  )
}

/** Another reading to compare with: of a fit, or the mean or slope of a stretch. */
function OtherReading({
  shown: { id, settings },
  reading,
  against,
  set,
}: {
  shown: GraphFit
  reading: NamedReading
  against: Against | null
  set(chosen: Against | null): void
}) {
  const session = useSession()
  const investigation = useInvestigation()
  const elsewhere = analyse(investigation)
    .allFits()
    .flatMap(({ id: fit2, settings: { name, stretch }, all }) => {
      if (all.length === 0) return []
      const { number } = investigation.stretches[stretch]
      return namedReadings(all)
        .filter((one) => (fit2 !== id || one.id !== reading.id) && areAlikeUnits(one.unit, reading.unit))
        .map((one) => [`${fit2} ${one.id}`, `${number}: ${name || all[0].name}, ${one.name}`] as const)
    })
  // The mean or the slope of a stretch needs a fit of its own, which is added when it is chosen.
  const values = stretchValues(investigation).filter(
    (one) =>
      areAlikeUnits(one.unit, reading.unit) && !(one.stretch === settings.stretch && one.word === 'slope'),
  )
  const compareWith = ({ stretch, word, model, reading: key }: StretchValue) => {
    const fit = uuid()
    session.edit(`compare with the ${word}`, (draft) => {
      edits.addFit(fit, stretch, model)(draft)
      const against: Against = { kind: 'reading', fit, reading: key, factor: 1 }
      edits.changeFit(id, { expected: { reading: reading.id, against } })(draft)
    })
  }
  if (elsewhere.length + values.length === 0) return null
  const chosen = against?.kind === 'reading' ? `${against.fit} ${against.reading}` : ''
  return (
    <Box>
      <Text fontSize="small" color="ink.muted">
        Another reading
      </Text>
      <Select
        label="Compare it with another reading"
        value={chosen}
        options={[
          ['', 'none'],
          ...elsewhere,
          ...values.map(({ number, word }, i) => [`new ${i}`, `${number}: its ${word}`] as const),
        ]}
        choose={(one) => {
          if (one.startsWith('new ')) return compareWith(values[Number(one.slice(4))])
          const [other, key] = one.split(' ')
          set(one === '' ? null : { kind: 'reading', fit: other, reading: key, factor: 1 })
        }}
      />
      {against?.kind === 'reading' && (
        <TextField
          label="That many times: 2 for twice a coefficient, say"
          value={String(against.factor)}
          inputMode="decimal"
          onCommit={(text) => {
            const times = parseNumber(text)
            if (times === null || times === 0) return 'A number.'
            set({ ...against, factor: times })
            return null
          }}
        />
      )}
    </Box>
  )
}

/** The percentage within which a result counts as right in this class. */
function ToleranceField() {
  const session = useSession()
  const { tolerance } = useInvestigation()
  return (
    <TextField
      label="This class counts as right within, %"
      value={tolerance === null ? '' : String(tolerance)}
      placeholder="nothing said"
      inputMode="decimal"
      onCommit={(text) => {
        const percent = text === '' ? null : parseNumber(text)
        if (text !== '' && (percent === null || percent < 0 || percent > 100)) return 'From 0 to 100.'
        session.edit('change what counts as right', edits.setTolerance(percent))
        return null
      }}
    />
  )
}

/** Returns true if two units have the same dimension. */
const areAlikeUnits = (a: string, b: string) => {
  const [one, other] = [parseUnit(a), parseUnit(b)]
  if (!one || !other) return a === b
  return areAlike(one.dimension, other.dimension)
}
