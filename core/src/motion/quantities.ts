import type { QuantityId } from '../investigation/index.ts'
import type { LengthName } from '../units/index.ts'

/** Unit of length in which numbers stand: metres, pixels until a scale is known, or another one to be shown. */
export type LengthUnit = LengthName | 'px'

/** A column of numbers over time that the product knows by itself. */
export interface Quantity {
  id: QuantityId
  /** Symbol, with what is set below the line apart. */
  symbol: string
  subscript: string
  name: string
  /** Which component of the motion it is; decides how its points are drawn. */
  component: 'x' | 'y'
  /** 0 for position, 1 for velocity: how many seconds stand below the length in its unit. */
  order: 0 | 1
}

/** The quantities in the order in which they are listed. */
export const QUANTITIES: Record<QuantityId, Quantity> = {
  x: { id: 'x', symbol: 'x', subscript: '', name: 'Position along x', component: 'x', order: 0 },
  y: { id: 'y', symbol: 'y', subscript: '', name: 'Position along y', component: 'y', order: 0 },
  vx: { id: 'vx', symbol: 'v', subscript: 'x', name: 'Velocity along x', component: 'x', order: 1 },
  vy: { id: 'vy', symbol: 'v', subscript: 'y', name: 'Velocity along y', component: 'y', order: 1 },
}

/** Unit of a length per second to the given order: m, m/s, m/s². */
export function quantityUnit(length: LengthUnit, order: number): string {
  return [length, `${length}/s`, `${length}/s²`][order]
}
