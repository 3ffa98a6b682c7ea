import {
  type BodyColour,
  type BodyShape,
  type Graph,
  type GraphedQuantity,
  type Investigation,
  inOrder,
  type Scaling,
  TIME,
} from '../investigation/index.ts'
import {
  areAlike,
  type Column,
  type ColumnNote,
  dimension,
  type MissingValue,
  type MotionTable,
  QUANTITIES,
  type QuantityInfo,
} from '../motion/index.ts'
import { type Dimension, metresIn, unitOf } from '../units/index.ts'
import { TRANSFORMS, type Transform, transformed } from './transforms.ts'

/** One axis of a graph. */
export interface AxisDescription {
  /** TIME, or a quantity. */
  quantity: string
  symbol: string
  subscript: string
  name: string
  /** Words that somebody has given it instead; empty where nobody has. */
  label: string
  transform: Transform
  /** Of what is drawn, after the transform. */
  unit: string
  dimension: Dimension
  log: boolean
  zero: boolean
  /** Limits that somebody has set, in the unit; null where it goes as far as its values. */
  from: number | null
  to: number | null
  /** What kept limits are multiplied by to be in the unit. */
  perKept: number
}

/** A point as it is drawn, with the row that it comes from. */
export interface Plotted {
  row: number
  frame: number
  x: number
  y: number
  /** Standard errors, and how far y can be off by smoothing. */
  errorX: number
  errorY: number
  bias: number
}

/** Why a series has no points, or not all; `columns.ts` in `words` has the sentences. */
export type SeriesNote =
  | { code: 'missing'; missing: MissingValue }
  | { code: 'empty'; notes: readonly ColumnNote[] }
  /** So many points have no place on the scales. */
  | { code: 'off-scale'; points: number }

/** One quantity of one body on a graph. */
export interface SeriesDescription {
  /** Null: the graph's own, which stretches lie on. */
  id: string | null
  body: string
  quantity: QuantityInfo
  column: Column
  table: MotionTable
  /** Null: of all bodies together, which have no colour. */
  colour: BodyColour | null
  shape: BodyShape
  points: Plotted[]
  /** Why there are no points, or what is missing of them; null where nothing is. */
  note: SeriesNote | null
}

/** Everything that a graph shows, whatever draws it. */
export interface GraphDescription {
  title: string
  x: AxisDescription
  y: AxisDescription
  isTime: boolean
  series: SeriesDescription[]
  /** Data from elsewhere, where it is drawn against time. */
  overlays: { id: string; name: string; points: { x: number; y: number }[] }[]
  /** Times at which the motion breaks, where it is drawn against time. */
  breaks: number[]
}

const TIME_INFO: QuantityInfo = {
  id: TIME,
  symbol: 't',
  subscript: '',
  name: 'Time',
  dimension: dimension({ time: 1 }),
  direction: 'size',
  needs: [],
}

/**
 * Describes a graph: its directions with their units, and the points of each of its quantities with their errors, to
 * first order through the transforms. Null where its quantity is gone.
 *
 * @param tableOf the motion table of one of its series, in the unit in which lengths are shown
 * @param quantityOf what a quantity says of itself, by its id; null for one that is gone
 */
export function describeGraph(
  investigation: Investigation,
  graph: Graph,
  tableOf: (series: GraphedQuantity) => MotionTable,
  quantityOf: (id: string) => QuantityInfo | null,
): GraphDescription | null {
  const info = quantityOf(graph.quantity)
  const against = graph.xQuantity === TIME ? TIME_INFO : quantityOf(graph.xQuantity)
  if (!info || !against) return null
  const main = tableOf(graph)
  const isTime = graph.xQuantity === TIME
  const unitIn = (table: MotionTable, quantity: QuantityInfo) =>
    quantity.id === TIME ? 's' : table.column(quantity.id).unit
  const axis = (quantity: QuantityInfo, scaling: Scaling): AxisDescription => {
    const transform = TRANSFORMS[scaling.transform]
    const sized = transformed(transform, quantity.dimension)
    const isOwn = quantity.unit !== undefined
    const perKept = isOwn || sized.mass !== 0 ? 1 : metresOf(main) ** -sized.length
    return {
      quantity: quantity.id,
      symbol: quantity.symbol,
      subscript: quantity.subscript,
      name: quantity.name,
      label: scaling.label,
      transform,
      unit: unitThrough(transform, unitIn(main, quantity), isOwn, sized, main),
      dimension: sized,
      log: scaling.log,
      zero: scaling.zero,
      perKept,
      from: scaling.from === null ? null : scaling.from * perKept,
      to: scaling.to === null ? null : scaling.to * perKept,
    }
  }
  /** Factor from the unit that is kept to the one that is shown, before any transform. */
  const perKeptPlain =
    info.unit !== undefined || info.dimension.mass !== 0 ? 1 : metresOf(main) ** -info.dimension.length
  const [xAxis, yAxis] = [axis(against, graph.scaleX), axis(info, graph.scaleY)]
  const drawn = (series: GraphedQuantity, id: string | null): SeriesDescription[] => {
    const quantity = quantityOf(series.quantity)
    const body = investigation.bodies[series.body]
    if (!quantity || !body || !areAlike(quantity.dimension, info.dimension)) return []
    const table = id === null ? main : tableOf(series)
    const column = table.column(quantity.id)
    const isShared = Object.hasOwn(QUANTITIES, quantity.id) && isOfAll(quantity.id)
    return [
      {
        id,
        body: series.body,
        quantity,
        column,
        table,
        colour: isShared ? null : body.colour,
        shape: body.shape,
        ...pointsOf(table, column, isTime ? null : table.column(graph.xQuantity), xAxis, yAxis),
      },
    ]
  }
  return {
    title: graph.title || (isTime ? info.name : `${info.name} against ${lowered(against.name)}`),
    x: xAxis,
    y: yAxis,
    isTime,
    series: [
      ...drawn(graph, null),
      ...inOrder(graph.also).flatMap(([id, series]) => drawn({ ...series }, id)),
    ],
    overlays: isTime ? overlaysOf(graph, yAxis, perKeptPlain) : [],
    breaks: isTime
      ? [...main.breaks].map((row) => (main.times[row - 1] + main.times[row]) / 2).filter(Number.isFinite)
      : [],
  }
}

/** Returns the data from elsewhere: their values are kept in SI, and drawn as those of the quantity are. */
function overlaysOf(
  { overlays }: Graph,
  { transform }: AxisDescription,
  perKept: number,
): GraphDescription['overlays'] {
  return inOrder(overlays).map(([id, { name, times, values, offset }]) => ({
    id,
    name,
    points: times.flatMap((time, i) => {
      const y = transform.of(values[i] * perKept)
      return Number.isFinite(y) ? [{ x: time + offset, y }] : []
    }),
  }))
}

/** Returns a name as it is written within a sentence. */
export function lowered(name: string): string {
  return name.slice(0, 1).toLowerCase() + name.slice(1)
}

function isOfAll(id: string): boolean {
  const quantity = QUANTITIES[id as keyof typeof QUANTITIES]
  return quantity.kind === 'multiBody' && quantity.among === 'all'
}

const metresOf = ({ length }: MotionTable) => (length === 'px' ? 1 : metresIn(length))

function unitThrough(
  transform: Transform,
  unit: string,
  isOwn: boolean,
  sized: Dimension,
  { length }: MotionTable,
): string {
  if (transform.id === 'none') return unit
  if (transform.power === null) return ''
  return isOwn && unit !== '' ? `(${unit})^${transform.power}` : unitOf(sized, length)
}

/** Returns the points of a column against time or another one: where both have a value that the transforms take. */
function pointsOf(
  table: MotionTable,
  column: Column,
  against: Column | null,
  xAxis: AxisDescription,
  yAxis: AxisDescription,
): Pick<SeriesDescription, 'points' | 'note'> {
  const bias = column.bias()
  const points: Plotted[] = []
  let lost = 0
  for (const row of column.rows) {
    const [alongX, alongY] = [against ? against.values[row] : table.times[row], column.values[row]]
    if (Number.isNaN(alongX)) continue
    const [x, y] = [xAxis.transform.of(alongX), yAxis.transform.of(alongY)]
    const isDrawable = (value: number, log: boolean) => Number.isFinite(value) && (!log || value > 0)
    if (!isDrawable(x, xAxis.log) || !isDrawable(y, yAxis.log)) {
      lost++
      continue
    }
    const slope = Math.abs(yAxis.transform.slope(alongY))
    points.push({
      row,
      frame: table.frames[row],
      x,
      y,
      errorX: against ? Math.abs(xAxis.transform.slope(alongX)) * against.errors[row] : 0,
      errorY: slope * column.errors[row],
      bias: slope * bias[row],
    })
  }
  return { points, note: noteOf(column, against, lost) }
}

/** @param lost points that have no place on the scales */
function noteOf(column: Column, against: Column | null, lost: number): SeriesNote | null {
  const missing = column.missing ?? against?.missing
  if (missing) return { code: 'missing', missing }
  if (column.rows.length === 0) return { code: 'empty', notes: column.notes }
  return lost > 0 ? { code: 'off-scale', points: lost } : null
}
