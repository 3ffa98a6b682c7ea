import { edits, type Graph } from '@apokinema/core/investigation'
import { type MotionTable, QUANTITIES } from '@apokinema/core/motion'
import { Box, Flex, Text } from '@chakra-ui/react'
import {
  Chart,
  type ChartData,
  type Chart as ChartInstance,
  type ChartOptions,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  ScatterController,
} from 'chart.js'
import { type PointerEvent, useEffect, useMemo, useRef, useState } from 'react'
import { Scatter } from 'react-chartjs-2'
import { v4 as uuid } from 'uuid'
import { tell } from '../../common/messages.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT, PAINT } from '../../theme/system.ts'
import { useClock } from '../ClipContext.tsx'
import { useCourse } from '../courses.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { fittedOn } from './fits.ts'
import { GraphHeader } from './GraphHeader.tsx'
import { type DrawnError, FLAG, type OverlayState, overlayPlugin } from './graphOverlay.ts'
import { PointedValue } from './PointedValue.tsx'

Chart.register(LinearScale, LineController, LineElement, PointElement, ScatterController)

const POINT_STYLES = {
  circle: 'circle',
  square: 'rect',
  triangle: 'triangle',
  diamond: 'rectRot',
  cross: 'cross',
  star: 'star',
} as const
const MONO = { family: "'JetBrains Mono Variable'", size: 12 }
/** Points of a drawn curve. */
const CURVE_POINTS = 120
const EDGE_REACH = 7
/** Pixels to a point, along time, from which it is pointed at. */
const POINT_REACH = 14

type Held =
  | { kind: 'new'; from: number; x: number; moved: boolean }
  | { kind: 'edge'; id: string; fixed: number; moving: number }

/** One graph of a quantity against time: points, stretches, fitted curves, and the cursor of the current frame. */
export function GraphPanel({
  id,
  graph,
  table,
  range,
}: {
  id: string
  graph: Graph
  table: MotionTable
  range: { from: number; to: number }
}) {
  const session = useSession()
  const investigation = useInvestigation()
  const clock = useClock()
  const frame = useWorkbench((state) => state.frame)
  const selection = useWorkbench((state) => state.selection)
  const chart = useRef<ChartInstance<'scatter'> | null>(null)
  const held = useRef<Held | null>(null)
  const [drawing, setDrawing] = useState<{ from: number; to: number } | null>(null)
  const [pointed, setPointed] = useState<{ row: number; x: number; y: number; width: number } | null>(null)
  const quantity = QUANTITIES[graph.quantity]
  const column = table.column(graph.quantity)
  const body = investigation.bodies[graph.body]
  const { strays } = useCourse(body)
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
  const drawn = stretches.map(([key, stretch]) => ({
    id: key,
    number: stretch.number,
    from: timeOf(stretch.from),
    to: timeOf(stretch.to),
    chosen: key === chosenStretch?.[0],
  }))
  const errors = useMemo<DrawnError[]>(() => {
    if (!graph.errorBars) return []
    const bias = column.bias()
    return column.rows.map((row) => ({
      time: table.times[row],
      value: column.values[row],
      error: column.errors[row],
      bias: bias[row],
    }))
  }, [graph.errorBars, column, table])
  const colour = BODY_PAINT[body.colour].mark
  const overlay = useRef<OverlayState>({
    ...{ cursor: 0, stretches: [], drawing: null, breaks: [], errors: [], colour },
  })
  const breaks = [...table.breaks].map((row) => (table.times[row - 1] + table.times[row]) / 2)
  overlay.current = {
    cursor: timeOf(frame),
    stretches: drawn,
    drawing,
    breaks: breaks.filter(Number.isFinite),
    errors,
    colour,
  }
  const plugin = useMemo(() => overlayPlugin(() => overlay.current), [])
  // The overlay is drawn with the chart, so it is drawn anew whenever something on it may have changed.
  useEffect(() => {
    chart.current?.draw()
  })

  const fits = useMemo(() => fittedOn(investigation, id, table), [investigation, id, table])
  const data = useMemo<ChartData<'scatter'>>(() => {
    const inside = (row: number) =>
      stretches.length === 0 ||
      stretches.some(([, { from, to }]) => table.frames[row] >= from && table.frames[row] <= to)
    const faded = (row: number) => (inside(row) ? colour : `${colour}59`)
    return {
      datasets: [
        {
          data: column.rows.map((row) => ({ x: table.times[row], y: column.values[row] })),
          pointStyle: POINT_STYLES[body.shape],
          pointRadius: 4.2,
          pointHoverRadius: 6,
          pointBorderWidth: 2,
          pointBackgroundColor: quantity.component === 'x' ? column.rows.map(faded) : '#FFFFFF',
          pointBorderColor: column.rows.map((row) =>
            strays.some(({ frame: stray }) => stray === table.frames[row]) ? PAINT.alarm : faded(row),
          ),
          order: 1,
        },
        ...fits.flatMap(({ fit }) => {
          if (!fit) return []
          const step = (fit.to - fit.from) / CURVE_POINTS
          return [
            {
              data: Array.from({ length: CURVE_POINTS + 1 }, (_, i) => {
                const t = fit.from + i * step
                return { x: t, y: fit.polynomial.valueAt(t) }
              }),
              showLine: true,
              pointRadius: 0,
              pointHitRadius: 0,
              borderColor: PAINT.ink,
              borderWidth: 1.6,
              order: 0,
            },
          ]
        }),
      ],
    }
  }, [body, colour, column, quantity, table, stretches, fits, strays])

  const options = useMemo<ChartOptions<'scatter'>>(
    () => ({
      animation: false,
      parsing: false,
      normalized: true,
      responsive: true,
      maintainAspectRatio: false,
      layout: { padding: { top: 8, right: 18 } },
      events: [],
      scales: {
        x: {
          min: range.from,
          max: range.to,
          grid: { display: false },
          border: { color: PAINT.line },
          ticks: { font: MONO, color: PAINT.inkMuted, maxRotation: 0, includeBounds: false },
        },
        y: {
          grid: { color: (context) => (context.tick?.value === 0 ? '#BFC4B2' : '#ECE8DE') },
          border: { display: false },
          ticks: {
            font: MONO,
            color: PAINT.inkMuted,
            maxTicksLimit: 6,
            callback: (value) => String(value).replace('-', '−'),
          },
          grace: '6%',
          ...(errors.length > 0 && {
            suggestedMin: Math.min(...errors.map(({ value, error }) => value - error)),
            suggestedMax: Math.max(...errors.map(({ value, error }) => value + error)),
          }),
          // The same room at the left of every graph keeps their time axes in line.
          afterFit: (scale) => {
            scale.width = 64
          },
        },
      },
    }),
    [range.from, range.to, errors],
  )

  const placeOf = (event: PointerEvent<HTMLDivElement>) => {
    const instance = chart.current!
    const box = instance.canvas.getBoundingClientRect()
    const x = event.clientX - box.left
    return {
      x,
      y: event.clientY - box.top,
      time: instance.scales.x.getValueForPixel(x) ?? 0,
      xOf: (time: number) => instance.scales.x.getPixelForValue(time),
      top: instance.chartArea.top,
    }
  }
  const rowAt = (time: number) =>
    column.rows.reduce(
      (best, row) => (Math.abs(table.times[row] - time) < Math.abs(table.times[best] - time) ? row : best),
      column.rows[0],
    )

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0 || !chart.current || column.rows.length === 0) return
    event.currentTarget.setPointerCapture(event.pointerId)
    const { x, y, time, xOf, top } = placeOf(event)
    const flagged = drawn.find(
      ({ from }) => x >= xOf(from) && x <= xOf(from) + FLAG.width && y >= top && y <= top + FLAG.height,
    )
    if (flagged) {
      workbench.select({ kind: 'stretch', id: flagged.id })
      return
    }
    for (const { id: key, from, to } of drawn)
      for (const [moving, fixed] of [
        [from, to],
        [to, from],
      ])
        if (Math.abs(x - xOf(moving)) < EDGE_REACH) {
          held.current = { kind: 'edge', id: key, fixed, moving }
          workbench.select({ kind: 'stretch', id: key })
          return
        }
    held.current = { kind: 'new', from: time, x, moved: false }
  }

  const point = (x: number, time: number) => {
    const { scales, width } = chart.current!
    const row = rowAt(time)
    const at = row === undefined ? Number.NaN : scales.x.getPixelForValue(table.times[row])
    if (!(Math.abs(at - x) < POINT_REACH)) setPointed(null)
    else if (pointed?.row !== row)
      setPointed({ row, x: at, y: scales.y.getPixelForValue(column.values[row]), width })
  }

  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    const now = held.current
    if (!chart.current) return
    const { x, time } = placeOf(event)
    if (!now) {
      point(x, time)
      return
    }
    setPointed(null)
    if (now.kind === 'new') {
      if (!now.moved && Math.abs(x - now.x) < 4) return
      now.moved = true
      setDrawing({ from: Math.min(now.from, time), to: Math.max(now.from, time) })
    } else {
      now.moving = time
      session.preview(edits.changeStretch(now.id, table.frames[rowAt(now.fixed)], table.frames[rowAt(time)]))
    }
  }

  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    const now = held.current
    held.current = null
    setDrawing(null)
    if (!now || !chart.current) return
    const { time } = placeOf(event)
    if (now.kind === 'edge') {
      session.edit(
        'change the stretch',
        edits.changeStretch(now.id, table.frames[rowAt(now.fixed)], table.frames[rowAt(time)]),
      )
      return
    }
    if (!now.moved) {
      const row = rowAt(time)
      workbench.goTo(table.frames[row])
      workbench.select({ kind: 'mark', body: graph.body, frame: table.frames[row] })
      return
    }
    const [low, high] = [Math.min(now.from, time), Math.max(now.from, time)]
    const rows = column.rows.filter((row) => table.times[row] >= low && table.times[row] <= high)
    if (rows.length < 2) {
      tell('A stretch needs at least two points. Drag over more of them.')
      return
    }
    const key = uuid()
    session.edit(
      'choose a stretch',
      edits.addStretch(key, id, table.frames[rows[0]], table.frames[rows[rows.length - 1]]),
    )
    workbench.select({ kind: 'stretch', id: key })
  }

  const drawnFrames = drawing
    ? column.rows
        .filter((row) => table.times[row] >= drawing.from && table.times[row] <= drawing.to)
        .map((row) => table.frames[row])
    : null
  const shownRange = drawnFrames
    ? { from: drawnFrames[0] ?? 0, to: drawnFrames.at(-1) ?? -1 }
    : chosenStretch?.[1]

  return (
    <Flex
      direction="column"
      flex="1 0 220px"
      minHeight="220px"
      bg="panel"
      borderBottom="1px solid"
      borderColor="line"
      data-graph={graph.quantity}
    >
      <GraphHeader
        id={id}
        graph={graph}
        table={table}
        stretch={chosenStretch?.[0] ?? null}
        range={shownRange ?? null}
      />
      <Box
        flex="1"
        minHeight="0"
        position="relative"
        cursor="crosshair"
        touchAction="pan-y"
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerLeave={() => setPointed(null)}
        onPointerCancel={() => {
          held.current = null
          setDrawing(null)
          session.preview(null)
        }}
      >
        <Box position="absolute" inset="0">
          <Scatter
            ref={chart}
            data={data}
            options={options}
            plugins={[plugin]}
            role="img"
            aria-label={`${quantity.name} against time, ${column.rows.length} points`}
          />
        </Box>
        {pointed && column.rows.includes(pointed.row) && (
          <PointedValue quantity={quantity} column={column} table={table} row={pointed.row} at={pointed} />
        )}
        <Text
          position="absolute"
          right="3"
          bottom="1.5"
          bg="panel"
          paddingLeft="2"
          fontFamily="mono"
          fontSize="12px"
          color="ink.muted"
          pointerEvents="none"
        >
          t in s
        </Text>
      </Box>
      {column.rows.length === 0 && (
        <Text paddingX="4" paddingBottom="3" fontSize="13px" color="ink.muted">
          {column.note ?? 'No points in the span.'}
        </Text>
      )}
    </Flex>
  )
}
