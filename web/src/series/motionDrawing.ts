import { type AxisDescription, TRANSFORMS } from '@apokinema/core/graphs'
import { BODY_COLOURS, BODY_SHAPES, TIME } from '@apokinema/core/investigation'
import { dimension } from '@apokinema/core/motion'
import type { AlignedMotion } from '@apokinema/core/series'
import type { DrawnDescription, DrawnSeries, GraphDrawing } from '../workbench/chart/graphDrawing.ts'
import { wholeLimits } from '../workbench/chart/graphLimits.ts'

const TIME_AXIS: AxisDescription = {
  quantity: TIME,
  symbol: 't',
  subscript: '',
  name: 'Time',
  label: '',
  transform: TRANSFORMS.none,
  unit: 's',
  dimension: dimension({ time: 1 }),
  log: false,
  zero: false,
  from: null,
  to: null,
  perKept: 1,
}

/** Returns colour and shape of the n-th trial among those that are drawn over each other. */
export function trialMarker(n: number) {
  const lap = Math.floor(n / BODY_COLOURS.length)
  return {
    colour: BODY_COLOURS[n % BODY_COLOURS.length],
    // With more trials than colours, a colour comes back with another shape.
    shape: BODY_SHAPES[(n + lap) % BODY_SHAPES.length],
  }
}

/**
 * Returns the motions of trials over each other as they are drawn; null if there is none.
 *
 * @param titles of the trials, by id
 */
export function motionDrawing(
  title: string,
  motions: readonly AlignedMotion[],
  titles: ReadonlyMap<string, string>,
): GraphDrawing | null {
  if (motions.length === 0) return null
  const [{ y }] = motions
  const series = motions.map(({ trial, drawn, points, zero }, i): DrawnSeries => {
    const { times, breaks } = drawn.table
    return {
      id: trial.id,
      body: trial.id,
      quantity: drawn.quantity,
      table: { times: times.map((time) => time - zero), breaks },
      ...trialMarker(i),
      points,
    }
  })
  const description: DrawnDescription = {
    title,
    x: TIME_AXIS,
    y: { ...y, from: null, to: null },
    isTime: true,
    series,
    overlays: [],
    breaks: [],
  }
  return {
    content: {
      graph: { grid: true, markStyle: 'both', errorBars: false },
      description,
      fits: [],
      tangents: [],
      notes: [],
      names: Object.fromEntries(titles),
    },
    limits: wholeLimits(description, false),
  }
}
