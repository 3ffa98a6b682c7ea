import type { ProbeReading } from '@apokinema/core/scene'
import { fixed, type LengthName, measurement, metresIn, significant, withUnit } from '@apokinema/core/units'

/** Returns a length in the investigation's unit, with enough digits for a picture. */
export function lengthText(metres: number, unit: LengthName): string {
  const value = metres / metresIn(unit)
  return withUnit(unit === 'm' ? fixed(value, 3) : significant(value, 4), unit)
}

/** Returns two lengths as "2.4 × 1.2 m". */
export function sizeText(width: number, height: number, unit: LengthName): string {
  const plain = (metres: number) => String(Number((metres / metresIn(unit)).toPrecision(4)))
  return withUnit(`${plain(width)} × ${plain(height)}`, unit)
}

/** Returns a length with its error in the form in which it is typed. */
export function writtenLength(metres: number, error: number, unit: LengthName): string {
  const plain = (value: number) => String(Number((value / metresIn(unit)).toPrecision(8)))
  return error > 0 ? `${plain(metres)} ± ${plain(error)} ${unit}` : `${plain(metres)} ${unit}`
}

/** Returns the reading of a probe with its error: a length in the investigation's unit, an angle in degrees. */
export function probeText({ value, error, unit }: ProbeReading, lengthUnit: LengthName): string {
  if (unit === 'rad') return measurement((value * 180) / Math.PI, (error * 180) / Math.PI, '°')
  if (unit === 'px') return measurement(value, error, 'px')
  return measurement(value / metresIn(lengthUnit), error / metresIn(lengthUnit), lengthUnit)
}

/** Returns the side of the plane's grid squares in metres: round in the displayed unit, about eight along the longer side. */
export function gridField(width: number, height: number, unit: LengthName): number {
  const most = Math.max(width, height) / metresIn(unit) / 6
  const power = 10 ** Math.floor(Math.log10(most))
  const round = [5, 2, 1].find((step) => step * power <= most) ?? 1
  return round * power * metresIn(unit)
}
