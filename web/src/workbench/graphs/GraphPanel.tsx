import {
  type AxisDescription,
  equalised,
  type GraphDescription,
  type Limits,
  limitsOf,
} from '@apokinema/core/graphs'
import type { Graph } from '@apokinema/core/investigation'
import type { Range } from '@apokinema/core/motion'
import { Box, Flex, Text } from '@chakra-ui/react'
import {
  Chart,
  type Chart as ChartInstance,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
} from 'chart.js'
import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { Scatter } from 'react-chartjs-2'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useClock } from '../ClipContext.tsx'
import { ByEye } from '../fits/ByEye.tsx'
import { curveOf } from '../fits/curveOf.ts'
import { fittedOn } from '../fits/fits.ts'
import { useBanded } from '../fits/useFitting.ts'
import { useTable } from '../tableStore.ts'
import { shownTableOf } from '../tables.ts'
import { useTrackDiagnosis } from '../trackDiagnosis.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { AxisHandle } from './AxisHandle.tsx'
import { AxisMenu } from './AxisMenu.tsx'
import type { Area } from './area.ts'
import { NO_DATA, optionsOf } from './chartOf.ts'
import { GraphHeader } from './GraphHeader.tsx'
import { type OverlayState, overlayPlugin } from './graphOverlay.ts'
import { paintOf } from './graphPoints.ts'
import { PointedValue } from './PointedValue.tsx'
import { drawnGraphs } from './TakeAway.tsx'
import { Tangent } from './Tangent.tsx'
import { useHeldScale, useTimeView } from './timeView.ts'
import { useGraphHands } from './useGraphHands.ts'
import { usePlotPinch } from './usePlotPinch.ts'
import { useScaleGrip } from './useScaleGrip.ts'

Chart.register(LinearScale, LogarithmicScale, LineController, LineElement, PointElement, ScatterController)

/** One graph: points, stretches, fitted curves, and the current frame. */
export function GraphPanel({
  id,
  graph,
  description,
  all,
  handle,
}: {
  id: string
  graph: Graph
  description: GraphDescription
  /** Times that are seen where nobody has chosen others. */
  all: Limits
  /** What the graph is dragged to another place by. */
  handle: ReactNode
}) {
  const investigation = useInvestigation()
  const range = useTimeView((state) => state.seen) ?? all
  const clock = useClock()
  const frame = useWorkbench((state) => state.frame)
  const isPlaying = useWorkbench((state) => state.playing)
  const selection = useWorkbench((state) => state.selection)
  const rows = useTable((state) => (state.open ? state.rows : null))
  const chart = useRef<ChartInstance<'scatter'> | null>(null)
  const [area, setArea] = useState<Area | null>(null)
  const { outliers } = useTrackDiagnosis(graph.body)
  const { series, isTime, across, up } = description
  const [main] = series
  const timeOf = (index: number) =>
    clock ? clock.seconds[Math.min(index, clock.seconds.length - 1)] - clock.zero : 0

  const stretches = useMemo(
    () =>
      Object.entries(investigation.stretches)
        .filter(([, stretch]) => stretch.graph === id)
        .sort(([, a], [, b]) => a.number - b.number),
    [investigation.stretches, id],
  )
  const chosenStretch =
    stretches.find(([key]) => selection?.kind === 'stretch' && selection.id === key) ?? stretches.at(-1)
  const drawn = isTime
    ? stretches.map(([key, stretch]) => ({
        id: key,
        number: stretch.number,
        from: timeOf(stretch.from),
        to: timeOf(stretch.to),
        chosen: key === chosenStretch?.[0],
      }))
    : []
  const { drawing, drawnRange, usePointed, hands } = useGraphHands(id, graph, description, drawn, chart)

  // What is looked at: the stretches of this graph; on a path also the one that is selected elsewhere.
  const selected = selection?.kind === 'stretch' ? investigation.stretches[selection.id] : undefined
  const isElsewhere =
    !isTime && selected && investigation.graphs[selected.graph]?.body === graph.body && selected.graph !== id
  const ranges = useMemo<Range[]>(() => {
    // Rows that are selected in the table are looked at before any stretch.
    if (rows && rows.to > rows.from) return [rows]
    return [
      ...stretches.map(([, { from, to, without }]) => ({ from, to, without })),
      ...(isElsewhere ? [selected] : []),
      ...(!isTime && drawnRange ? [drawnRange] : []),
    ]
  }, [stretches, isElsewhere, selected, isTime, drawnRange, rows])
  const fits = useMemo(
    () =>
      up.transform.id === 'none' && across.transform.id === 'none'
        ? fittedOn(investigation, id, (one, body) => shownTableOf(investigation, body, one))
        : [],
    [investigation, id, up.transform.id, across.transform.id],
  )
  const banded = useBanded((state) => state.fits)
  const strayFrames = useMemo(() => new Set(outliers.map(({ frame: at }) => at)), [outliers])
  // Apart from the times that are seen, which change with every move of a drag.
  const whole = useMemo(() => wholeLimits(description, graph.errorBars), [description, graph.errorBars])
  const held = useHeldScale((state) => (state.held?.id === id ? state.held : null))
  const limits = useMemo(() => {
    if (held) return { across: isTime ? range : whole.across, up: whole.up, [held.direction]: held.limits }
    return limitsIn(description, graph.equal, whole, range, area)
  }, [description, isTime, graph.equal, whole, range, area, held])
  const seen = useRef(limits)
  seen.current = limits
  const axisName = useRef<HTMLDivElement>(null)
  const options = useMemo(
    () => optionsOf(description, limits, graph.grid, () => roomOf(axisName.current)),
    [description, limits, graph.grid],
  )

  const pinching = usePlotPinch(
    hands,
    useScaleGrip(id, 'across', description, seen, chart),
    useScaleGrip(id, 'up', description, seen, chart),
  )

  const overlay = useRef<OverlayState | null>(null)
  const notes = Object.values(graph.notes).flatMap(({ frame: at, text }) => {
    const point = main?.points.find((one) => one.frame === at)
    return point ? [{ x: point.x, y: point.y, text }] : []
  })
  overlay.current = {
    cursor: isTime
      ? { time: timeOf(frame) }
      : { places: series.flatMap(({ points }) => points.filter((point) => point.frame === frame)) },
    stretches: drawn,
    drawing: isTime ? drawing : null,
    breaks: description.breaks,
    errors: graph.errorBars ? series.map((one) => ({ points: one.points, colour: paintOf(one) })) : [],
    notes,
    points: {
      description,
      graph,
      fits,
      banded,
      isIn:
        ranges.length === 0
          ? null
          : (at) => ranges.some(({ from, to, without }) => at >= from && at <= to && !without?.[at]),
      isStray: strayFrames.size === 0 ? null : (at) => strayFrames.has(at),
      until: isPlaying ? frame : Number.POSITIVE_INFINITY,
    },
  }
  const extras = {
    curves: fits.flatMap(({ fit }) => (fit ? [curveOf(fit).points] : [])),
    notes,
    names: Object.fromEntries(Object.entries(investigation.bodies).map(([body, { name }]) => [body, name])),
  }
  // Asked for when it is taken away: what stands above a graph is not rendered for every move of it.
  const drawnGraph = useRef({ graph, description, limits, extras })
  drawnGraph.current = { graph, description, limits, extras }
  const drawnNow = useCallback(() => drawnGraph.current, [])
  useEffect(() => {
    drawnGraphs.set(id, drawnNow)
    return () => void drawnGraphs.delete(id)
  }, [id, drawnNow])
  const shownRange = drawnRange ?? chosenStretch?.[1] ?? null
  const plugin = useMemo(() => overlayPlugin(() => overlay.current!), [])
  // The overlay is drawn with the chart, so it is drawn anew whenever something on it may have changed. With other
  // scales the chart has just been drawn by itself.
  const drawnWith = useRef<typeof options | null>(null)
  useEffect(() => {
    const instance = chart.current
    if (!instance) return
    if (drawnWith.current === options) instance.draw()
    drawnWith.current = options
    const { left, top, width, height } = instance.chartArea
    const isSame = area?.width === width && area.height === height && area.left === left && area.top === top
    if (!isSame) setArea({ left, top, width, height })
  })

  if (!main) return null
  return (
    <Flex direction="column" height="100%" bg="panel" data-graph={graph.quantity}>
      <GraphHeader
        id={id}
        graph={graph}
        description={description}
        stretch={chosenStretch?.[0] ?? null}
        range={shownRange}
        handle={handle}
        drawn={drawnNow}
      />
      <Box
        flex="1"
        minHeight="0"
        position="relative"
        cursor="crosshair"
        touchAction="pan-y"
        data-across={`${limits.across.from} ${limits.across.to}`}
        data-up={`${limits.up.from} ${limits.up.to}`}
        {...pinching}
      >
        <Box position="absolute" inset="0">
          <Scatter
            ref={chart}
            data={NO_DATA}
            options={options}
            plugins={[plugin]}
            role="img"
            aria-label={`${description.title}${isTime ? ' against time' : ''}, ${main.points.length} points`}
          />
        </Box>
        {(['up', 'across'] as const).map((direction) => (
          <AxisHandle
            key={direction}
            id={id}
            direction={direction}
            description={description}
            chart={chart}
            limits={seen}
          />
        ))}
        {isTime && area && (graph.tangent || graph.handTangent) && (
          <Tangent id={id} graph={graph} description={description} limits={limits} area={area} />
        )}
        {isTime && area && <ByEye fits={fits} limits={limits} area={area} />}
        <PointedValue description={description} series={main} usePointed={usePointed} />
        <Box
          ref={axisName}
          position="absolute"
          right="3"
          bottom="1"
          bg="panel"
          paddingLeft="2"
          onPointerDown={(event) => event.stopPropagation()}
        >
          <AxisMenu id={id} graph={graph} axis={across} direction="across" />
        </Box>
      </Box>
      {main.note && (
        <Text paddingX="4" paddingBottom="3" fontSize="13px" color="ink.muted">
          {main.note}
        </Text>
      )}
    </Flex>
  )
}

/** Pixels from where something stands to the right end of what it stands in. */
const roomOf = (element: HTMLElement | null) =>
  element ? element.offsetParent!.clientWidth - element.offsetLeft : 0

type LimitsOfBoth = { across: Limits; up: Limits }

/** How far a graph goes along both directions, with its errors where they are shown. */
function wholeLimits({ across, up, series, overlays }: GraphDescription, errorBars: boolean): LimitsOfBoth {
  function* values(pick: 'x' | 'y', error: 'errorX' | 'errorY') {
    for (const { points } of series)
      for (const point of points) {
        const around = errorBars && Number.isFinite(point[error]) ? point[error] : 0
        yield point[pick] - around
        yield point[pick] + around
      }
    if (pick === 'y') for (const { points } of overlays) for (const { y } of points) yield y
  }
  return { across: limitsOf(across, values('x', 'errorX')), up: limitsOf(up, values('y', 'errorY')) }
}

/** What is seen of a graph. */
function limitsIn(
  { across, up, isTime }: GraphDescription,
  equal: boolean,
  whole: LimitsOfBoth,
  range: Limits,
  area: { width: number; height: number } | null,
): LimitsOfBoth {
  if (isTime) return { across: range, up: whole.up }
  const isAlike = equal && across.unit === up.unit && isAuto(across) && isAuto(up)
  return isAlike && area ? equalised(whole.across, whole.up, area) : whole
}

const isAuto = ({ from, to, log }: AxisDescription) => from === null && to === null && !log
