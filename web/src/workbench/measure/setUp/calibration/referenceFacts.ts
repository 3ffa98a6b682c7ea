import { distance, scaleOf } from '@apokinema/core/geometry'
import type { Reference } from '@apokinema/core/investigation'
import type { ReferenceReport } from '@apokinema/core/scene'
import {
  angleMeasurement,
  fixed,
  type LengthName,
  metresIn,
  significant,
  withUnit,
} from '@apokinema/core/units'
import { lengthText } from '../../../lengths.ts'

/**
 * Returns the facts of a reference length, as pairs of a name and a value.
 *
 * @param level its angle to the horizontal of the scene; null if the camera looks at it at an angle
 */
export function referenceFacts(
  reference: Reference,
  { measured, off, sigmas, angle }: ReferenceReport,
  unit: LengthName,
  hasScale: boolean,
  level: { angle: number; error: number } | null,
): [string, string][] {
  const rows: [string, string][] = [['on the picture', withUnit(fixed(distance(...reference.ends), 1), 'px')]]
  if (level) rows.push(['angle to level', angleMeasurement(level.angle, level.error)])
  if (angle) rows.push(['angle to x', angleMeasurement(angle.value, angle.error)])
  if (hasScale) {
    const own = scaleOf(reference)!
    rows.push([`px per ${unit}`, significant(metresIn(unit) / own.metresPerPixel, 4)])
  }
  if (reference.use === 'check' && measured !== null) {
    rows.push(['by the scale', lengthText(measured, unit)])
    if (off !== null)
      rows.push([
        'that is off by',
        `${fixed(100 * off, 1)} %${sigmas === null ? '' : `, ${fixed(sigmas, 1)} of its errors`}`,
      ])
  }
  return rows
}
