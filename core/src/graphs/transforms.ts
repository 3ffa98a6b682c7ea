import type { TransformId } from '../investigation/index.ts'
import type { Dimension } from '../units/index.ts'

/** What values of a direction of a graph are put through before they are drawn. */
export interface Transform {
  id: TransformId
  /** As it is chosen, with x for the value. */
  name: string
  of: (value: number) => number
  slope: (value: number) => number
  /** The power that its unit is raised to; null where none is left. */
  power: number | null
  /** What stands before and behind the symbol. */
  around: [string, string]
}

/** The transforms in the order in which they are offered. */
export const TRANSFORMS: Record<TransformId, Transform> = {
  none: { id: 'none', name: 'as it is', of: (x) => x, slope: () => 1, power: 1, around: ['', ''] },
  square: {
    id: 'square',
    name: 'squared',
    of: (x) => x * x,
    slope: (x) => 2 * x,
    power: 2,
    around: ['', '²'],
  },
  root: {
    id: 'root',
    name: 'square root of it',
    of: Math.sqrt,
    slope: (x) => 0.5 / Math.sqrt(x),
    power: 0.5,
    around: ['√', ''],
  },
  reciprocal: {
    id: 'reciprocal',
    name: '1 over it',
    of: (x) => 1 / x,
    slope: (x) => -1 / (x * x),
    power: -1,
    around: ['1/', ''],
  },
  ln: {
    id: 'ln',
    name: 'natural logarithm of it',
    of: Math.log,
    slope: (x) => 1 / x,
    power: null,
    around: ['ln ', ''],
  },
  log10: {
    id: 'log10',
    name: 'decimal logarithm of it',
    of: Math.log10,
    slope: (x) => 1 / (x * Math.LN10),
    power: null,
    around: ['log₁₀ ', ''],
  },
}

/** Returns a dimension put through a transform. */
export function transformed({ power }: Transform, dimension: Dimension): Dimension {
  const by = power ?? 0
  return {
    mass: by * dimension.mass,
    length: by * dimension.length,
    time: by * dimension.time,
    angle: by * dimension.angle,
  }
}
