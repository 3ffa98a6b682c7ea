import { clockOf } from '@apokinema/core/scene'
import {
  type AlignedMotion,
  type Alignment,
  alignedMotions,
  differenceOf,
  type TableTrial,
  totalError,
} from '@apokinema/core/series'
import { fixed, measurement, significant } from '@apokinema/core/units'
import { motionTroubleText, timeGraphs } from '@apokinema/words/series'
import { Box, Button, Flex, Grid, HStack, IconButton, Table, Text } from '@chakra-ui/react'
import { ArrowLeft, Pause, Play } from 'lucide-react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Select } from '../common/Select.tsx'
import { AlignmentFields, MotionLegend } from './MotionGraphs.tsx'
import { motionDrawing } from './motionDrawing.ts'
import { useOpenSeries, useSeriesAnalysis } from './SeriesContext.tsx'
import { StepFilm } from './StepFilm.tsx'
import { TrialPlot } from './TrialPlot.tsx'

/** Two trials side by side: their films in step, their motions over each other, and how their readings differ. */
export default function TwoInStep({
  first,
  second,
  choose,
  close,
}: {
  first: string
  second: string
  choose: (first: string, second: string) => void
  close: () => void
}) {
  const analysis = useSeriesAnalysis()
  const { listed } = useOpenSeries()
  const pattern = analysis.patternDocument()
  const graphs = pattern ? timeGraphs(pattern) : []
  const [chosen, setChosen] = useState<string | null>(null)
  const [alignment, setAlignment] = useState<Alignment>({ kind: 'release' })
  const graph = chosen ?? graphs[0]?.[0] ?? ''
  const rows = analysis.table.rows()
  const pair = [first, second].flatMap((id) => rows.find((row) => row.id === id) ?? [])
  // biome-ignore lint/correctness/useExhaustiveDependencies: the pair follows from the rows and its ids
  const { motions, without } = useMemo(
    () => alignedMotions(pair, { graph, alignment }),
    [analysis, first, second, graph, alignment],
  )
  const options = rows.map(({ id }) => [id, listed.get(id)?.title ?? 'A deleted investigation'] as const)
  const top = useRef<HTMLDivElement>(null)
  // It takes the place of a table that may have been scrolled.
  useEffect(() => {
    top.current?.scrollIntoView()
  }, [])
  return (
    <Box ref={top} padding="3" data-in-step>
      <Flex gap="2" align="center" wrap="wrap" marginBottom="3">
        <Button size="sm" variant="ghost" onClick={close}>
          <ArrowLeft size={15} aria-hidden /> All trials
        </Button>
        <Text as="h1" fontWeight="600">
          Two trials in step
        </Text>
        <Box flex="1" />
        <Select label="Graph of each trial" width="11rem" value={graph} options={graphs} choose={setChosen} />
        <AlignmentFields alignment={alignment} graph={graph} change={setAlignment} />
      </Flex>
      <Grid templateColumns={{ base: '1fr', md: '1fr 1fr' }} gap="3">
        <Select
          label="First trial"
          size="sm"
          value={first}
          options={options}
          choose={(id) => choose(id, second)}
        />
        <Select
          label="Second trial"
          size="sm"
          value={second}
          options={options}
          choose={(id) => choose(first, id)}
        />
      </Grid>
      {without.map(({ trial, trouble }) => (
        <Text key={trial.id} color="ink.muted" fontSize="small" marginTop="1">
          {listed.get(trial.id)?.title}: {motionTroubleText(trouble)}
        </Text>
      ))}
      {motions.length === 2 && <Films key={`${graph} ${alignment.kind}`} motions={motions} />}
      {pair.length === 2 && <Differences pair={pair} />}
    </Box>
  )
}

/** A trial's film by the time since the moment at which the trials are aligned. */
interface Stepped {
  motion: AlignedMotion
  /** Seconds of each frame since that moment. */
  seconds: Float64Array
}

function steppedOf(motion: AlignedMotion): Stepped {
  const { frames, times } = motion.drawn.table
  const clock = clockOf(motion.trial.document!)?.seconds ?? new Float64Array(0)
  const shift = times[0] - clock[frames[0]] - motion.zero
  return { motion, seconds: clock.map((second) => second + shift) }
}

/** Returns the frame that is nearest to a time; the first or the last one beyond the film. */
function frameAt(seconds: Float64Array, time: number): number {
  let nearest = 0
  for (let i = 1; i < seconds.length; i++)
    if (Math.abs(seconds[i] - time) < Math.abs(seconds[nearest] - time)) nearest = i
  return nearest
}

/** Both films at the same time, and the motions over each other with the cursor there. */
function Films({ motions }: { motions: readonly AlignedMotion[] }) {
  const { titles } = useOpenSeries()
  const stepped = useMemo(() => motions.map(steppedOf), [motions])
  const from = Math.min(...stepped.map(({ seconds }) => seconds[0]))
  const to = Math.max(...stepped.map(({ seconds }) => seconds[seconds.length - 1]))
  const step = Math.min(...stepped.map(({ seconds }) => seconds[1] - seconds[0])) || 0.01
  const [time, setTime] = useState(0)
  const [isPlaying, setPlaying] = useState(false)
  const drawing = useMemo(() => motionDrawing('Both motions', motions, titles), [motions, titles])

  // biome-ignore lint/correctness/useExhaustiveDependencies: it begins where the cursor stands then
  useEffect(() => {
    if (!isPlaying) return
    const began = performance.now()
    let frame = 0
    const begin = time >= to - step ? from : time
    const tick = () => {
      const now = begin + (performance.now() - began) / 1000
      setTime(Math.min(now, to))
      if (now < to) frame = requestAnimationFrame(tick)
      else setPlaying(false)
    }
    frame = requestAnimationFrame(tick)
    return () => cancelAnimationFrame(frame)
  }, [isPlaying, from, to, step])

  return (
    <>
      <Grid templateColumns={{ base: '1fr', md: '1fr 1fr' }} gap="3" marginTop="2">
        {stepped.map(({ motion, seconds }) => (
          <StepFilm
            key={motion.trial.id}
            trial={motion.trial.id}
            document={motion.trial.document!}
            frame={frameAt(seconds, time)}
          />
        ))}
      </Grid>
      <HStack gap="3" marginTop="2">
        <IconButton
          size="sm"
          variant="outline"
          aria-label={isPlaying ? 'Pause' : 'Play both'}
          onClick={() => setPlaying(!isPlaying)}
        >
          {isPlaying ? <Pause size={15} /> : <Play size={15} />}
        </IconButton>
        <input
          type="range"
          aria-label="Time since the moment at which the trials are aligned"
          aria-valuetext={`${fixed(time, 3)} s`}
          min={from}
          max={to}
          step={step}
          value={time}
          style={{ flex: 1, accentColor: 'var(--chakra-colors-saffron)' }}
          onChange={({ target }) => {
            setPlaying(false)
            setTime(Number(target.value))
          }}
        />
        <Text fontFamily="mono" width="6rem" textAlign="right" data-time={time}>
          {fixed(time, 3)} s
        </Text>
      </HStack>
      {drawing && <TrialPlot drawing={drawing} about="two trials" cursor={time} />}
      <MotionLegend motions={motions} />
    </>
  )
}

/** The readings of both trials and their differences, with errors that know what both share. */
function Differences({ pair }: { pair: readonly TableTrial[] }) {
  const { table } = useSeriesAnalysis()
  const { listed } = useOpenSeries()
  const [a, b] = pair
  const rows = table.columns.flatMap((column) => {
    const [one, other] = [table.cell(a.id, column.id), table.cell(b.id, column.id)]
    if (one.kind !== 'number' || other.kind !== 'number') return []
    return [{ column, one: one.value, other: other.value, difference: differenceOf(one.value, other.value) }]
  })
  if (rows.length === 0) return null
  const shown = (value: (typeof rows)[number]['one']) => measurement(value.value, totalError(value), '')
  return (
    <Table.Root size="sm" marginTop="3" aria-label="Differences">
      <Table.Header>
        <Table.Row bg="paper">
          <Table.ColumnHeader>Quantity</Table.ColumnHeader>
          <Table.ColumnHeader>{listed.get(a.id)?.title}</Table.ColumnHeader>
          <Table.ColumnHeader>{listed.get(b.id)?.title}</Table.ColumnHeader>
          <Table.ColumnHeader>Difference</Table.ColumnHeader>
          <Table.ColumnHeader>In standard errors</Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {rows.map(({ column: { id, column, unit }, one, other, difference }) => {
          const error = totalError(difference)
          return (
            <Table.Row key={id} bg="panel">
              <Table.Cell>
                {column.name}
                {unit && `, ${unit}`}
              </Table.Cell>
              <Table.Cell fontFamily="mono">{shown(one)}</Table.Cell>
              <Table.Cell fontFamily="mono">{shown(other)}</Table.Cell>
              <Table.Cell fontFamily="mono" data-difference={difference.value} data-error={error}>
                {shown(difference)}
              </Table.Cell>
              <Table.Cell fontFamily="mono">
                {error > 0 ? significant(Math.abs(difference.value) / error, 2) : '–'}
              </Table.Cell>
            </Table.Row>
          )
        })}
      </Table.Body>
    </Table.Root>
  )
}
