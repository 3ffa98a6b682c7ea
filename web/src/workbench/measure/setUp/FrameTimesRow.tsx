import { edits } from '@apokinema/core/investigation'
import { clockOf, type InvestigationClock } from '@apokinema/core/scene'
import type { FrameTimes } from '@apokinema/core/time'
import { fixed, significant, withUnit } from '@apokinema/core/units'
import { Flex, Grid, IconButton, Stack, Text } from '@chakra-ui/react'
import { ChevronLeft, ChevronRight, Flag } from 'lucide-react'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import { COLOUR } from '../../../theme/palettes.ts'
import { useFlags } from '../../useFlags.ts'
import { useWorkbench, workbench } from '../../workbenchStore.ts'
import { Facts } from './Facts.tsx'
import { SetUpRow } from './SetUpRow.tsx'

const milliseconds = (seconds: number) => withUnit(fixed(1000 * seconds, 3), 'ms')

const perSecond = (rate: number) => withUnit(fixed(rate, 1), '/s')

/** Ratio of the longest to the shortest frame above which the row shows the range of rates. */
const WIDE = 1.2

/** Returns the frame rate and regularity in a few words. Rates that agree within the digits shown count as even. */
function evenness({ rate, shortest, longest, even }: FrameTimes, flags: number): string {
  const [slowest, quickest] = [1 / longest, 1 / shortest].map((one) => fixed(one, 1))
  if (even || slowest === quickest) return `${perSecond(rate)}, even`
  if (flags > 0) return `${perSecond(rate)}, ${flags === 1 ? '1 flag' : `${flags} flags`}`
  if (longest < WIDE * shortest) return `${perSecond(rate)}, uneven`
  return `${plain(1 / longest)}–${withUnit(plain(1 / shortest), '/s')}, uneven`
}

const plain = (rate: number) => String(Number(rate.toPrecision(2)))

/** Returns the rate of the frames in a few words. */
export function rateText(
  { playback, seconds }: InvestigationClock,
  constantRate: number | null,
  flags: number,
): string {
  if (seconds.length === 1) return 'a single frame'
  return constantRate ? `${perSecond(constantRate)}, constant` : evenness(playback, flags)
}

/** The times of the file's frames, the irregular ones, and the clock in use. */
export function FrameTimesRow() {
  const investigation = useInvestigation()
  const flags = useFlags()
  const { timing } = investigation
  const clock = clockOf(investigation)!
  const { playback, seconds } = clock
  if (seconds.length === 1)
    return <SetUpRow state="plain" label="Frame times" value="a single frame" isBehindMore />
  const isFlagged = flags.length > 0 && timing.constantRate === null
  return (
    <SetUpRow
      state={isFlagged ? 'note' : 'done'}
      label="Frame times"
      isBehindMore={!isFlagged && timing.constantRate === null && timing.rateError === null}
      value={rateText(clock, timing.constantRate, flags.length)}
    >
      <Facts
        rows={[
          ['playback rate', withUnit(significant(playback.rate, 5), '/s')],
          ['frames', String(seconds.length)],
          ['duration', withUnit(fixed(playback.seconds.at(-1)! + playback.median, 3), 's')],
          ['shortest frame', milliseconds(playback.shortest)],
          ['median frame', milliseconds(playback.median)],
          ['longest frame', milliseconds(playback.longest)],
        ]}
      />
      {flags.length > 0 && <Flagged flags={flags} />}
      <Text fontSize="small" color="ink.muted" marginTop="2">
        {playback.dequantised
          ? 'The file rounds its times to its tick; an even clock explains them, and is used.'
          : playback.even
            ? 'Frames follow each other evenly.'
            : 'Every calculation uses these times as they are in the file, so uneven frames do no harm.'}
      </Text>
      <ClockFields />
    </SetUpRow>
  )
}

/** The flagged frames, to be stepped through. */
function Flagged({ flags }: { flags: number[] }) {
  const frame = useWorkbench((state) => state.frame)
  const before = flags.findLast((flag) => flag < frame)
  const after = flags.find((flag) => flag > frame)
  const here = flags.indexOf(frame) + 1
  return (
    <Flex align="center" gap="2" marginTop="2" fontSize="small">
      <Flag size={14} color={COLOUR.alarm} aria-hidden />
      <Text flex="1">
        {here > 0 ? `flag ${here} of ${flags.length}` : `${flags.length} come early or late`}
      </Text>
      <IconButton
        size="2xs"
        variant="outline"
        aria-label="Flagged frame before"
        disabled={before === undefined}
        onClick={() => workbench.goTo(before!)}
      >
        <ChevronLeft size={14} />
      </IconButton>
      <IconButton
        size="2xs"
        variant="outline"
        aria-label="Next flagged frame"
        disabled={after === undefined}
        onClick={() => workbench.goTo(after!)}
      >
        <ChevronRight size={14} />
      </IconButton>
    </Flex>
  )
}

/** A constant rate instead of the file's times, and the error of the clock. */
function ClockFields() {
  const session = useSession()
  const investigation = useInvestigation()
  const { constantRate, rateError } = investigation.timing
  const { playback, rateError: used } = clockOf(investigation)!
  const last = playback.seconds.length - 1
  const moved = constantRate === null ? 0 : last / constantRate - playback.seconds[last]
  return (
    <Stack gap="2" marginTop="3">
      <Grid templateColumns="1fr 1fr" gap="2" alignItems="end">
        <TextField
          label="Constant rate, /s"
          placeholder="the file’s"
          value={constantRate === null ? '' : String(constantRate)}
          inputMode="decimal"
          onCommit={(text) => {
            const rate = text === '' ? null : parseNumber(text)
            if (text !== '' && (rate === null || rate <= 0 || rate > 1e6)) return 'Above 0, or empty.'
            session.edit('change the clock', edits.setTiming({ constantRate: rate }))
            return null
          }}
        />
        <TextField
          label="Clock ± %"
          placeholder={significant(100 * used, 1)}
          value={rateError === null ? '' : String(Number((100 * rateError).toPrecision(6)))}
          inputMode="decimal"
          onCommit={(text) => {
            const percent = text === '' ? null : parseNumber(text)
            if (text !== '' && (percent === null || percent < 0 || percent > 100))
              return '0 to 100, or empty.'
            session.edit(
              'state the clock’s error',
              edits.setTiming({ rateError: percent === null ? null : percent / 100 }),
            )
            return null
          }}
        />
      </Grid>
      {constantRate !== null && (
        <Text fontSize="small" color="ink.muted">
          {Math.abs(moved) < 5e-7
            ? 'This is what the file says, too.'
            : `This moves the last frame ${milliseconds(Math.abs(moved))} ${moved > 0 ? 'later' : 'earlier'}.`}
        </Text>
      )}
    </Stack>
  )
}
