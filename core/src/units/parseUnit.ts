import type { Dimension } from './dimension.ts'
import { LENGTH_NAMES, metresIn } from './length.ts'

/** A unit that was typed: its dimension, and how many of the SI's (or of the picture's pixels) it is. */
export interface ParsedUnit {
  dimension: Dimension
  factor: number
}

const PURE: Dimension = { mass: 0, length: 0, time: 0, angle: 0 }
const of = (powers: Partial<Dimension>, factor = 1): ParsedUnit => ({
  dimension: { ...PURE, ...powers },
  factor,
})
const ENERGY = { mass: 1, length: 2, time: -2 }

const UNITS: Record<string, ParsedUnit> = {
  ...Object.fromEntries(LENGTH_NAMES.map((name) => [name, of({ length: 1 }, metresIn(name))])),
  px: of({ length: 1 }),
  kg: of({ mass: 1 }),
  g: of({ mass: 1 }, 1e-3),
  mg: of({ mass: 1 }, 1e-6),
  t: of({ mass: 1 }, 1e3),
  s: of({ time: 1 }),
  ms: of({ time: 1 }, 1e-3),
  min: of({ time: 1 }, 60),
  h: of({ time: 1 }, 3600),
  Hz: of({ time: -1 }),
  rad: of({ angle: 1 }),
  '°': of({ angle: 1 }, Math.PI / 180),
  deg: of({ angle: 1 }, Math.PI / 180),
  N: of({ mass: 1, length: 1, time: -2 }),
  J: of(ENERGY),
  kJ: of(ENERGY, 1e3),
  mJ: of(ENERGY, 1e-3),
  W: of({ mass: 1, length: 2, time: -3 }),
  '%': of({}, 0.01),
  '1': of({}),
}

const RAISED: Record<string, string> = {
  '⁻': '-',
  ...Object.fromEntries([...'⁰¹²³⁴⁵⁶⁷⁸⁹'].map((sign, digit) => [sign, String(digit)])),
}
const RAISED_SIGNS = /[⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+/g
const PIECE = /^([^\d^]+|1)(?:\^?(-?\d+(?:\.\d+)?))?$/

/** Understands a unit such as "m/s²", "kg*m/s^2", "N·m", "J/(kg·m)", "cm"; nothing is a pure number. Null for what is none. */
export function parseUnit(text: string): ParsedUnit | null {
  const plain = text
    .trim()
    .replace(RAISED_SIGNS, (signs) => `^${[...signs].map((sign) => RAISED[sign]).join('')}`)
    .replaceAll('−', '-')
  if (plain === '') return of({})
  const [above, ...below] = plain.split('/')
  const sides = [
    { side: above, sign: 1 },
    ...below.map((side) => ({ side: side.trim().replace(/^\((.*)\)$/, '$1'), sign: -1 })),
  ]
  const whole = { dimension: { ...PURE }, factor: 1 }
  for (const { side, sign } of sides)
    for (const piece of side.trim().split(/[·*\s]+/)) {
      const found = PIECE.exec(piece)
      const unit = found && Object.hasOwn(UNITS, found[1]) ? UNITS[found[1]] : null
      if (!unit) return null
      const power = sign * Number(found?.[2] ?? 1)
      for (const key of ['mass', 'length', 'time', 'angle'] as const)
        whole.dimension[key] += power * unit.dimension[key]
      whole.factor *= unit.factor ** power
    }
  return whole
}

/** Returns the factor from a unit to SI; 1 for no unit, and for one that is not known. */
export const unitFactor = (unit: string): number => parseUnit(unit)?.factor ?? 1
