import type { LengthName } from './length.ts'

/** Unit of length in which numbers stand: metres, pixels until a scale is known, or another one to be shown. */
export type LengthUnit = LengthName | 'px'

/** What a quantity is made of: powers of kilograms, lengths, seconds and radians. */
export interface Dimension {
  mass: number
  length: number
  time: number
  angle: number
}

const SUPERSCRIPTS: Record<string, string> = {
  '-': '⁻',
  '.': '·',
  ...Object.fromEntries([...'⁰¹²³⁴⁵⁶⁷⁸⁹'].map((raised, digit) => [String(digit), raised])),
}

/** Units with a name of their own, by the powers of kilogram, metre and second. */
const NAMED: Record<string, string> = { '1 1 -2': 'N', '1 2 -2': 'J', '1 2 -3': 'W' }

function power(name: string, by: number): string {
  return by === 1 ? name : name + [...String(by)].map((sign) => SUPERSCRIPTS[sign]).join('')
}

/**
 * Returns the unit of a dimension: "m/s²", "rad/s", "kg·m/s", "J", and nothing for a pure number. What has a mass in it is in
 * metres whatever lengths are shown in, or in pixels where there is no scale.
 */
export function unitOf({ mass, length, time, angle }: Dimension, shownIn: LengthUnit): string {
  const unit = mass !== 0 && shownIn !== 'px' ? 'm' : shownIn
  if (unit === 'm' && mass !== 0 && angle === 0) {
    const name = NAMED[[mass, length, time].join(' ')]
    if (name) return name
  }
  const parts = [
    ['kg', mass],
    [unit, length],
    ['rad', angle],
    ['s', time],
  ] as const
  const above = parts.flatMap(([name, by]) => (by > 0 ? [power(name, by)] : []))
  const below = parts.flatMap(([name, by]) => (by < 0 ? [power(name, -by)] : []))
  if (below.length === 0) return above.join('·')
  const under = below.length > 1 ? `(${below.join('·')})` : below[0]
  return `${above.join('·') || '1'}/${under}`
}

/** Returns the dimension of what changes by a quantity in each second. */
export function perSecond(dimension: Dimension): Dimension {
  return { ...dimension, time: dimension.time - 1 }
}
