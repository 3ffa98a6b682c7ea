import { edits, type Investigation, refusalsOf } from '@apokinema/core/investigation'
import { clockOf } from '@apokinema/core/scene'
import { type CaptureRate, COMMON_CAPTURE_RATES } from '@apokinema/core/time'
import { fixed, significant, withUnit } from '@apokinema/core/units'
import { Box, Button, CloseButton, Flex, Grid, HStack, Stack, Text } from '@chakra-ui/react'
import { useId } from 'react'
import { v4 as uuid } from 'uuid'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import { ProposalBox } from '../../proposals/ProposalBox.tsx'
import { SetUpRow } from './SetUpRow.tsx'

const isForAll = ({ from, to, rate }: CaptureRate) => from === null && to === null && rate !== null

/** Slow motion plays slower than it was captured by more than this. */
const SLOWER = 1.2

/** Returns whether the rate that the camera has noted says slow motion, and nobody has answered that. */
function isSlowMotion(investigation: Investigation): boolean {
  const { footage, timing } = investigation
  const noted = footage?.notedCaptureRate ?? null
  const clock = clockOf(investigation)
  if (noted === null || !clock || Object.keys(timing.capture).length > 0) return false
  if (refusalsOf(investigation, 'capture-rate').length > 0) return false
  return noted > SLOWER * clock.playback.rate
}

function parseRate(text: string): number | null {
  const rate = parseNumber(text)
  return rate !== null && rate > 0 && rate <= 1e6 ? rate : null
}

/** Whether the clip is slow motion: the rate at which it was captured, for all frames or for some. */
export function SpeedRow() {
  const session = useSession()
  const investigation = useInvestigation()
  const { capture } = investigation.timing
  const noted = investigation.footage!.notedCaptureRate
  const ranges = Object.entries(capture).sort(([, a], [, b]) => a.order - b.order)
  const forAll = ranges.find(([, range]) => isForAll(range))
  const others = ranges.filter(([, range]) => !isForAll(range))
  const clock = clockOf(investigation)!
  const list = useId()
  const isProposed = noted !== null && isSlowMotion(investigation)
  const state: StateRate = (id, range) =>
    session.edit('state the capture rate', edits.setCaptureRate(id, range))
  const value =
    ranges.length === 0
      ? 'as played'
      : others.length > 0
        ? `${ranges.length === 1 ? 'one range' : `${ranges.length} ranges`}`
        : `${withUnit(significant(clock.rate, 4), '/s')}, ${significant(clock.rate / clock.playback.rate, 3)}× slow`
  const row = (
    <SetUpRow
      state={isProposed ? 'note' : ranges.length > 0 ? 'done' : 'plain'}
      label="Capture rate"
      isBehindMore={!isProposed && ranges.length === 0}
      place="capture-rate"
      value={value}
    >
      <Stack gap="2">
        <TextField
          label="Captured at, frames a second"
          placeholder={`as played: ${fixed(clock.playback.rate, 1)}`}
          value={forAll ? String(forAll[1].rate) : ''}
          inputMode="decimal"
          list={list}
          onCommit={(text) => {
            if (text === '') {
              if (forAll) session.edit('take the capture rate away', edits.removeCaptureRate(forAll[0]))
              return null
            }
            const rate = parseRate(text)
            if (rate === null) return 'Frames a second such as 240; empty: as played.'
            state(forAll?.[0] ?? uuid(), { from: null, to: null, rate, known: null })
            return null
          }}
        />
        <datalist id={list}>
          {COMMON_CAPTURE_RATES.map((rate) => (
            <option key={rate} value={rate} />
          ))}
        </datalist>
        {others.map(([id, range]) => (
          <Range key={id} id={id} range={range} />
        ))}
        <AddButtons state={state} />
        <Text fontSize="small" color="ink.muted">
          Slow motion has more frames a second than it plays. Times, velocities and accelerations follow at
          once.
        </Text>
      </Stack>
    </SetUpRow>
  )
  if (!isProposed) return row
  return (
    <>
      {row}
      <ProposalBox
        choices={[
          {
            label: `Use ${noted} /s`,
            act: () => state(uuid(), { from: null, to: null, rate: noted, known: null }),
          },
        ]}
        refuse={{
          says: 'No, not slow motion',
          act: () => session.edit('refuse the capture rate', edits.refuse(uuid(), { kind: 'capture-rate' })),
        }}
      >
        Slow motion? The camera noted {withUnit(String(noted), '/s')}, and it plays at{' '}
        {withUnit(fixed(clock.playback.rate, 1), '/s')}.
      </ProposalBox>
    </>
  )
}

type StateRate = (id: string, range: Omit<CaptureRate, 'order'>) => void

/** Adds a capture rate for some frames, or a known time between two. */
function AddButtons({ state }: { state: StateRate }) {
  const investigation = useInvestigation()
  const { span } = investigation
  const noted = investigation.footage!.notedCaptureRate
  const clock = clockOf(investigation)!
  return (
    <HStack gap="2" flexWrap="wrap">
      <Button
        size="2xs"
        variant="outline"
        onClick={() =>
          state(uuid(), {
            from: span.first,
            to: span.last,
            rate: noted ?? Math.round(8 * clock.playback.rate),
            known: null,
          })
        }
      >
        Only some frames
      </Button>
      <Button
        size="2xs"
        variant="outline"
        disabled={span.last <= span.first}
        onClick={() =>
          state(uuid(), {
            from: null,
            to: null,
            rate: null,
            known: {
              from: span.first,
              to: span.last,
              seconds: Number((clock.seconds[span.last] - clock.seconds[span.first]).toPrecision(6)),
            },
          })
        }
      >
        A known time
      </Button>
    </HStack>
  )
}

/** A capture rate for some frames, or the known time between two. */
function Range({ id, range }: { id: string; range: CaptureRate }) {
  const session = useSession()
  const { footage } = useInvestigation()
  const last = clockOf(useInvestigation())!.seconds.length - 1
  if (!footage) return null
  const { order, ...stated } = range
  const change = (changed: Partial<CaptureRate>) =>
    session.edit('change a capture rate', edits.setCaptureRate(id, { ...stated, ...changed }))
  const { known } = range
  const ends = known ?? { from: range.from ?? 0, to: range.to ?? last }
  const endField = (key: 'from' | 'to', label: string) => (
    <TextField
      label={label}
      value={String(ends[key])}
      inputMode="numeric"
      onCommit={(text) => {
        const frame = parseNumber(text)
        const wanted = { ...ends, [key]: frame ?? -1 }
        if (frame === null || !Number.isInteger(frame) || frame < 0 || frame > last) return `0 to ${last}.`
        if (wanted.from >= wanted.to) return 'From before to.'
        change(known ? { known: { ...known, [key]: frame } } : { [key]: frame })
        return null
      }}
    />
  )
  return (
    <Box borderLeft="2px solid" borderColor="line" paddingLeft="2">
      <Flex justify="space-between" align="center">
        <Text fontSize="small">{known ? 'A known time' : 'Only these frames'}</Text>
        <CloseButton
          size="2xs"
          aria-label={known ? 'Take the known time away' : 'Take this range away'}
          onClick={() => session.edit('take a capture rate away', edits.removeCaptureRate(id))}
        />
      </Flex>
      <Grid templateColumns="1fr 1fr 1.3fr" gap="2">
        {endField('from', 'From')}
        {endField('to', 'To')}
        {known ? (
          <TextField
            label="Really, s"
            value={String(known.seconds)}
            inputMode="decimal"
            onCommit={(text) => {
              const seconds = parseNumber(text)
              if (seconds === null || seconds <= 0 || seconds > 1e6) return 'Seconds above 0.'
              change({ known: { ...known, seconds } })
              return null
            }}
          />
        ) : (
          <TextField
            label="Captured at, /s"
            value={String(range.rate)}
            inputMode="decimal"
            onCommit={(text) => {
              const rate = parseRate(text)
              if (rate === null) return 'Above 0.'
              change({ rate })
              return null
            }}
          />
        )}
      </Grid>
    </Box>
  )
}
