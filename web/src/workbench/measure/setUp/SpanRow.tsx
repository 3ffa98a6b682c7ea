import { edits, framesInUse, inOrder } from '@apokinema/core/investigation'
import { afterOscillations, markErrorOf, speedPerFrame } from '@apokinema/core/motion'
import { frameCount, median, proposedStep } from '@apokinema/core/time'
import { Button, Grid, HStack, Text } from '@chakra-ui/react'
import { useMemo } from 'react'
import { notify } from '../../../common/messages.tsx'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import { useSurveyed } from '../../survey/useSurvey.ts'
import { useWorkbench, workbench } from '../../workbenchStore.ts'
import { SetUpRow } from './SetUpRow.tsx'

/** The frames in use. */
export function SpanRow() {
  const session = useSession()
  const investigation = useInvestigation()
  const { span, footage } = investigation
  const frames = frameCount(footage!.ticks)
  const whole = span.first === 0 && span.last === frames - 1 && span.every === 1
  const used = framesInUse(investigation).list.length
  const change = (changed: Partial<typeof span>) => session.edit('change the span', edits.setSpan(changed))
  const field = (label: string, key: 'first' | 'last' | 'every', most: number) => (
    <TextField
      label={label}
      value={String(span[key])}
      inputMode="numeric"
      onCommit={(text) => {
        const value = parseNumber(text)
        const least = key === 'every' ? 1 : 0
        if (value === null || !Number.isInteger(value) || value < least || value > most)
          return `A whole number from ${least} to ${most}.`
        change({ [key]: value })
        return null
      }}
    />
  )
  const every = span.every === 1 ? 'every frame' : `every ${ordinal(span.every)}`
  return (
    <SetUpRow state={whole ? 'open' : 'done'} label={`Frames ${span.first} to ${span.last}`} value={every}>
      <Grid templateColumns="1fr 1fr 1fr" gap="2">
        {field('First', 'first', frames - 1)}
        {field('Last', 'last', frames - 1)}
        {field('Every n-th', 'every', frames)}
      </Grid>
      <HStack marginTop="2" gap="2">
        <Button size="2xs" variant="outline" onClick={() => change({ first: useWorkbench.getState().frame })}>
          From here
        </Button>
        <Button size="2xs" variant="outline" onClick={() => change({ last: useWorkbench.getState().frame })}>
          To here
        </Button>
      </HStack>
      <StepProposal />
      <CountedStart />
      <Text fontSize="small" color="ink.muted" marginTop="2">
        {used} frames in use. Keep only those in which it moves freely; the two ends can be dragged on the
        strip.
      </Text>
    </SetUpRow>
  )
}

/** Sets the beginning of the span to the first release, or a number of whole oscillations after it. */
function CountedStart() {
  const session = useSession()
  const investigation = useInvestigation()
  const surveyed = useSurveyed()
  const { bodies, span } = investigation
  const start = (oscillations: number): number | null => {
    const release = surveyed?.motion?.from ?? span.first
    if (oscillations === 0) return surveyed?.motion ? release : null
    const marked = inOrder(bodies).map(([, body]) => body)[0]
    const frames = Object.keys(marked?.marks ?? {})
      .map(Number)
      .sort((a, b) => a - b)
    // Marks are more precise than the pictures; along the axis on which the body moves farther.
    const reach = (key: 'x' | 'y') => {
      const values = frames.map((frame) => marked!.marks[frame][key])
      return Math.max(...values) - Math.min(...values)
    }
    if (frames.length > 8) {
      const along = reach('x') > reach('y') ? 'x' : 'y'
      const at = afterOscillations(
        frames.map((frame) => marked!.marks[frame][along]),
        oscillations,
      )
      return at === null ? null : frames[at]
    }
    const seen = surveyed?.seen.slice(release) ?? []
    const at = afterOscillations(seen, oscillations)
    return at === null ? null : release + at
  }
  const begin = (oscillations: number) => {
    const first = start(oscillations)
    if (first === null)
      return oscillations === 0 ? 'Nothing is seen to be let go.' : 'So many oscillations are not seen.'
    session.edit('begin the span', edits.setSpan({ first }))
    workbench.goTo(first)
    return null
  }
  return (
    <HStack marginTop="2" gap="2" align="end">
      <Button
        size="xs"
        variant="outline"
        onClick={() => {
          const wrong = begin(0)
          if (wrong) notify(wrong)
        }}
      >
        From the release
      </Button>
      <TextField
        label="… after swings"
        placeholder="0"
        value=""
        inputMode="numeric"
        onCommit={(text) => {
          const count = parseNumber(text)
          if (count === null || !Number.isInteger(count) || count < 0 || count > 1000)
            return 'A whole number.'
          return begin(count)
        }}
      />
    </HStack>
  )
}

/** Advice on the interval between marks, if it differs from the present one. */
function StepProposal() {
  const session = useSession()
  const { span, bodies } = useInvestigation()
  const count = span.last - span.first + 1
  const every = useMemo(() => {
    const marked = inOrder(bodies).map(([, body]) => body)[0]
    if (!marked) return proposedStep(count, null)
    const speed = speedPerFrame(marked)
    const speeds = Object.keys(marked.marks).flatMap((frame) => speed(Number(frame)) ?? [])
    return proposedStep(count, speeds.length > 2 ? median(speeds) : null, markErrorOf(marked))
  }, [bodies, count])
  if (every === span.every) return null
  const marks = Math.floor((count - 1) / every) + 1
  return (
    <HStack marginTop="2" gap="2" fontSize="small">
      <Text flex="1">
        {count} frames, {every === 1 ? 'every one' : `every ${ordinal(every)}`} gives {marks} marks.
      </Text>
      <Button
        size="2xs"
        variant="outline"
        onClick={() => session.edit('change the step', edits.setSpan({ every }))}
      >
        Use it
      </Button>
    </HStack>
  )
}

/** Returns an ordinal: 2 → 2nd. */
function ordinal(n: number): string {
  const teens = n % 100 > 10 && n % 100 < 14
  return `${n}${teens ? 'th' : (['th', 'st', 'nd', 'rd'][n % 10] ?? 'th')}`
}
