import { LENGTH_NAMES, type LengthName, metresIn } from './length.ts'

/** How a number in SI, or in pixels, is shown: in which unit, and by what it is multiplied for that. */
export interface Shown {
  unit: string
  factor: number
}

/**
 * Returns the unit in which something is shown that the product keeps in metres over seconds: "m/s²" becomes
 * "cm/s²" where lengths are shown in centimetres. Units without a metre stay as they are.
 */
export function shownIn(unit: string, length: LengthName): Shown {
  if (unit !== 'm' && !unit.startsWith('m/')) return { unit, factor: 1 }
  return { unit: length + unit.slice(1), factor: 1 / metresIn(length) }
}

/** Metres in the unit of length that a unit such as "cm/s²" stands on; null where it is none, as in "px/s". */
export function metresWithin(unit: string): number | null {
  const [length] = unit.split('/')
  return (LENGTH_NAMES as string[]).includes(length) ? metresIn(length as LengthName) : null
}
