import type { TransformId } from '../investigation/index.ts'
import type { Dimension } from '../units/index.ts'

/** Function applied to the values of an axis before they are drawn. */
export interface Transform {
  id: TransformId
  /** As it is chosen in the axis menu. */
  name: string
  of: (value: number) => number
  slope: (value: number) => number
  /** Exponent of the unit of the transformed values; null if they have no unit. */
  power: number | null
  /** Text before and after the symbol. */
  around: [string, string]
}

/** The transforms in the order in which they are offered. */
export const TRANSFORMS: Record<TransformId, Transform> = {
  none: { id: 'none', name: 'no transform', of: (x) => x, slope: () => 1, power: 1, around: ['', ''] },
  square: {
    id: 'square',
    name: 'square',
    of: (x) => x * x,
    slope: (x) => 2 * x,
    power: 2,
    around: ['', '²'],
  },
  root: {
    id: 'root',
    name: 'square root',
    of: Math.sqrt,
    slope: (x) => 0.5 / Math.sqrt(x),
    power: 0.5,
    around: ['√', ''],
  },
  reciprocal: {
    id: 'reciprocal',
    name: 'reciprocal',
    of: (x) => 1 / x,
    slope: (x) => -1 / (x * x),
    power: -1,
    around: ['1/', ''],
  },
  ln: {
    id: 'ln',
    name: 'natural logarithm',
    of: Math.log,
    slope: (x) => 1 / x,
    power: null,
    around: ['ln ', ''],
  },
  log10: {
    id: 'log10',
    name: 'logarithm, base 10',
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
