import { applied, inverse, type Point } from '../geometry/index.ts'
import type { InvestigationScene } from '../scene/index.ts'
import { metresIn, significant, withUnit } from '../units/index.ts'
import type { MotionTable } from './motionTable.ts'

/** Vectors that are drawn on the picture, and the columns that they are made of. */
const COLUMNS = {
  velocity: ['vx', 'vy'],
  acceleration: ['ax', 'ay'],
  momentum: ['px', 'py'],
} as const
export type VectorKind = keyof typeof COLUMNS
export const VECTOR_KINDS = Object.keys(COLUMNS) as VectorKind[]

/** A vector of the motion as it appears in the picture of its frame. */
export interface Arrow {
  frame: number
  /** The mark. */
  at: Point
  /** Picture pixels per second, or what takes their place: per second squared, times a mass. */
  by: Point
  /** Its size in the table's unit. */
  size: number
}

/** Vectors of several bodies drawn to a common scale. */
export interface Arrows {
  /** For each body's table in turn. */
  lists: Arrow[][]
  /** By which each is multiplied, so that it becomes pixels. */
  factor: number
  /** Pixels that a vector of one of the table's units is drawn with. */
  perUnit: number
  unit: string
}

/** Pixels a second (or second squared) that are nothing but rounding. */
const STILL = 1e-6

/** Returns the largest 1, 2 or 5 times a power of ten that is not above a number. */
export function roundBelow(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value) + 1e-9)
  const first = value / power
  return power * (first >= 5 - 1e-9 ? 5 : first >= 2 - 1e-9 ? 2 : 1)
}

/**
 * Velocities, accelerations or momenta of some motions as arrows on the picture, all drawn to one round scale by which
 * none is longer than `most` pixels. Null where there are none, as momenta where no mass is known.
 *
 * @param tables all in one unit of length
 */
export function arrowsOf(
  scene: InvestigationScene,
  tables: readonly MotionTable[],
  kind: VectorKind,
  most: number,
): Arrows | null {
  const lists = tables.map((table) => vectorsOf(scene, table, kind))
  const pixels = ({ by }: Arrow) => Math.hypot(by.x, by.y)
  const longest = lists
    .flat()
    .reduce<Arrow | null>((best, one) => (!best || pixels(one) > pixels(best) ? one : best), null)
  if (!longest || !(pixels(longest) > STILL)) return null
  const factor = roundBelow(most / pixels(longest))
  const { unit } = tables[lists.findIndex((list) => list.includes(longest))].column(COLUMNS[kind][0])
  return { lists, factor, perUnit: (factor * pixels(longest)) / longest.size, unit }
}

/** Returns an arrow of a round size by which a scale is told: how long it is, `most` pixels at most, and what stands beside it. */
export function scaleArrow(
  { perUnit, unit }: Arrows,
  kind: VectorKind,
  most: number,
  zoom = 1,
): { long: number; text: string } {
  const size = roundBelow(most / (zoom * perUnit))
  return { long: size * zoom * perUnit, text: `${kind} ${withUnit(significant(size, 1), unit)}` }
}

function vectorsOf(scene: InvestigationScene, table: MotionTable, kind: VectorKind): Arrow[] {
  const [along, up] = COLUMNS[kind]
  const { rows, values } = table.column(along)
  const other = table.column(up).values
  // A table that is shown in another unit of length counts in that.
  const ratio = lengthRatio(scene, table)
  return rows.flatMap((row): Arrow[] => {
    const at = { x: table.picture.x[row], y: table.picture.y[row] }
    const vector = { x: values[row], y: other[row] }
    const transform = scene.at(table.frames[row])
    if (!transform || !Number.isFinite(vector.x + vector.y)) return []
    const by = applied(inverse(transform.jacobian(at)), { x: ratio * vector.x, y: ratio * vector.y })
    return [{ frame: table.frames[row], at, by, size: Math.hypot(vector.x, vector.y) }]
  })
}

/** Returns how many of the scene's units of length one of the table's is. */
function lengthRatio(scene: InvestigationScene, table: MotionTable): number {
  return scene.length === 'px' || table.length === 'px' ? 1 : metresIn(table.length) / metresIn(scene.length)
}
