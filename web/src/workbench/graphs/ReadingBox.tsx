import {
  type ColumnFit,
  compare,
  type ErrorSource,
  type Estimate,
  halfWidth,
  type Reading,
  shares,
} from '@apokinema/core/fitting'
import { edits, type Fit } from '@apokinema/core/investigation'
import { fixed, measurement, metresWithin, significant, withUnit } from '@apokinema/core/units'
import { Box, Button, Flex, HStack, Text } from '@chakra-ui/react'
import { v4 as uuid } from 'uuid'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useSession } from '../../document/SessionContext.tsx'

/** Standard acceleration of free fall as schools use it. */
export const SCHOOL_G = 9.81

const SOURCES: Record<ErrorSource, { name: string; colour: string }> = {
  marks: { name: 'marks', colour: '#0F5C5C' },
  placing: { name: 'ends of the reference', colour: '#6FA9A4' },
  length: { name: 'length of the reference', colour: '#C3D3CF' },
  depth: { name: 'depth of the reference', colour: '#A08F5C' },
  disagreement: { name: 'references that disagree', colour: '#B4654A' },
  motion: { name: 'known motion', colour: '#7A69A0' },
  camera: { name: 'landmarks', colour: '#5C7FA3' },
  timing: { name: 'clock', colour: '#8C8879' },
}

/** What a fit says in words and numbers, beside what is expected, and what its error is made of. */
export function ReadingBox({ fit, settings, id }: { fit: ColumnFit; settings: Fit; id: string }) {
  const { reading, order, isAngle } = fit
  // Of what turns no length stands in the unit.
  const metres = isAngle ? 1 : metresWithin(reading.unit)
  const isAcceleration = !isAngle && metres !== null && fit.model.reading.derivative === 2
  const wide = halfWidth(reading)
  return (
    <Box bg="petrol.tint" borderRadius="8px" padding="3" marginTop="2">
      <Text
        fontWeight="600"
        fontSize="16px"
        data-reading
        data-value={reading.value}
        data-error={reading.error}
      >
        {reading.name} {measurement(reading.value, reading.error, reading.unit)}
      </Text>
      <Text fontSize="13px" color="ink.muted">
        {Number.isFinite(wide)
          ? `95 % interval: ± ${withUnit(significant(wide, 2), reading.unit)}`
          : 'As many parameters as points: no scatter is left to tell an error from.'}
      </Text>
      {metres === null ? (
        <KnownMotion fit={fit} settings={settings} />
      ) : (
        <Expected reading={reading} settings={settings} id={id} offerG={isAcceleration} metres={metres} />
      )}
      <Budget reading={reading} />
      {order > 0 && (
        <Text fontSize="13px" color="ink.muted" marginTop="1">
          Neighbouring {order === 1 ? 'velocities' : 'accelerations'} share marks; the errors know it. A fit
          to position uses the marks themselves.
        </Text>
      )}
    </Box>
  )
}

function Expected({
  reading,
  settings,
  id,
  offerG,
  metres,
}: {
  reading: Reading
  settings: Fit
  id: string
  offerG: boolean
  /** Metres in the unit of length of the reading: what is expected is kept in SI. */
  metres: number
}) {
  const session = useSession()
  const { expected } = settings
  const set = (value: number | null, label: string) =>
    session.edit(
      'change the expected value',
      edits.changeFit(id, { expected: value === null ? null : { value, label } }),
    )
  const comparison = expected ? compare(reading, expected.value / metres) : null
  return (
    <Box marginTop="2">
      <HStack gap="2" align="flex-end">
        <Box width="7rem">
          <TextField
            label={`Expected, ${reading.unit}`}
            value={expected ? String(Number((expected.value / metres).toPrecision(8))) : ''}
            placeholder="none"
            inputMode="decimal"
            onCommit={(text) => {
              const value = text === '' ? null : parseNumber(text)
              if (text !== '' && value === null) return 'A number.'
              set(value === null ? null : value * metres, '')
              return null
            }}
          />
        </Box>
        {offerG && expected?.label !== 'g' && (
          <Button
            size="xs"
            variant="outline"
            bg="panel"
            onClick={() => set(reading.value < 0 ? -SCHOOL_G : SCHOOL_G, 'g')}
          >
            g, {fixed(SCHOOL_G, 2)}
          </Button>
        )}
        {expected && (
          <Button size="xs" variant="plain" paddingX="1" color="petrol" onClick={() => set(null, '')}>
            Clear
          </Button>
        )}
      </HStack>
      {comparison && (
        <Text fontSize="13px" marginTop="1" data-comparison>
          {comparisonText(comparison, reading)}
        </Text>
      )}
    </Box>
  )
}

function comparisonText(
  { percent, standardErrors, bySize }: ReturnType<typeof compare>,
  reading: Estimate,
): string {
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
  const sizes = bySize
    ? ` Sizes compared: ${reading.value < 0 ? 'the reading points along the negative axis' : 'the expected value has the other sign'}.`
    : ''
  return `${parts.join(', ')}${verdict}.${sizes}`
}

/** How much of the error comes from where, as shares of its variance. */
function Budget({ reading }: { reading: Reading }) {
  const parts = shares(reading)
  if (parts.length === 0) return null
  return (
    <Box marginTop="2">
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
      </Text>
    </Box>
  )
}

/** Where lengths are in pixels: what moves in a known way gives the scale. */
function KnownMotion({ fit, settings }: { fit: ColumnFit; settings: Fit }) {
  const session = useSession()
  const unit = fit.model.reading.derivative === 1 ? 'm/s' : 'm/s²'
  return (
    <Box marginTop="2">
      <Text fontSize="13px" color="ink.muted">
        In pixels there is nothing to compare it with: set a scale under Measure. Or is this motion known,
        from a game or a film, say? Then it gives the scale.
      </Text>
      <Box width="11rem">
        <TextField
          label={`It is known to be, ${unit}`}
          placeholder={fit.model.reading.derivative === 1 ? '2.5 ± 0.1' : '9.81 ± 0.02'}
          value=""
          onCommit={(text) => {
            if (text === '') return null
            const [value, error = 0] = text.split(/±|\+-|\+\/-/).map(parseNumber)
            if (value === null || error === null || value === 0 || error < 0)
              return 'A number such as 9.81 ± 0.02.'
            session.edit(
              'set the scale by a known motion',
              edits.setKnownMotion(uuid(), {
                stretch: settings.stretch,
                derivative: fit.model.reading.derivative === 1 ? 1 : 2,
                value: Math.abs(value),
                error,
              }),
            )
            return null
          }}
        />
      </Box>
    </Box>
  )
}
