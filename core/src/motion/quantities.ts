import { type Body, QUANTITY_IDS, type QuantityId } from '../investigation/index.ts'
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
  component: Component
  /** 0 for position, 1 for velocity, 2 for acceleration: how many seconds stand below in its unit. */
  order: 0 | 1 | 2
}

/** Along one of the axes, or the turning of the body about itself. */
export type Component = 'x' | 'y' | 'turn'

/** What a component's position is called in a formula. */
export const COMPONENT_SYMBOLS: Record<Component, string> = { x: 'x', y: 'y', turn: 'φ' }

/** The quantities in the order in which they are listed. */
export const QUANTITIES: Record<QuantityId, Quantity> = {
  x: { id: 'x', symbol: 'x', subscript: '', name: 'Position along x', component: 'x', order: 0 },
  y: { id: 'y', symbol: 'y', subscript: '', name: 'Position along y', component: 'y', order: 0 },
  vx: { id: 'vx', symbol: 'v', subscript: 'x', name: 'Velocity along x', component: 'x', order: 1 },
  vy: { id: 'vy', symbol: 'v', subscript: 'y', name: 'Velocity along y', component: 'y', order: 1 },
  ax: { id: 'ax', symbol: 'a', subscript: 'x', name: 'Acceleration along x', component: 'x', order: 2 },
  ay: { id: 'ay', symbol: 'a', subscript: 'y', name: 'Acceleration along y', component: 'y', order: 2 },
  turn: { id: 'turn', symbol: 'φ', subscript: '', name: 'Orientation', component: 'turn', order: 0 },
  spin: { id: 'spin', symbol: 'ω', subscript: '', name: 'Spin', component: 'turn', order: 1 },
}

const SUPERSCRIPTS = ['', '', '²', '³']

/** Unit of a component's position per second to the given order: m, m/s, m/s², or rad, rad/s. */
export function quantityUnit(length: LengthUnit, order: number, component: Component = 'x'): string {
  const base = component === 'turn' ? 'rad' : length
  return order === 0 ? base : `${base}/s${SUPERSCRIPTS[order]}`
}

/** Something for each quantity. */
export function byQuantity<T>(make: (id: QuantityId) => T): Record<QuantityId, T> {
  return Object.fromEntries(QUANTITY_IDS.map((id) => [id, make(id)])) as Record<QuantityId, T>
}

/** The quantities that a body can have: how it turns is told by a second point. */
export function quantitiesOf({ second }: Pick<Body, 'second'>): Quantity[] {
  const turns = Object.keys(second).length > 0
  return Object.values(QUANTITIES).filter(({ component }) => component !== 'turn' || turns)
}
