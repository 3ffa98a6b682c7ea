import { axesOf, type Investigation } from '../investigation/index.ts'
import type { QuantityInfo } from '../motion/index.ts'
import { clockOf } from '../scene/index.ts'
import { COMMON_CAPTURE_RATES } from '../time/index.ts'
import { metresWithin } from '../units/index.ts'
import { STANDARD_GRAVITY } from './expected.ts'
import type { ColumnFit } from './fitResult.ts'

/** A component counts as vertical within this angle of the picture's vertical. */
const NEARLY_VERTICAL = (15 * Math.PI) / 180
/** How near to g/k² an acceleration must be, as a share of it; at least three of its errors. */
const NEAR = 0.04

/** A clip that looks like slow motion taken for normal speed. */
export interface SlowMotionHint {
  /** How many times slower it seems to play. */
  factor: number
  /** The capture rate that this would mean, frames per second. */
  captureRate: number
}

/**
 * Returns true if a fitted acceleration along the vertical is near g/k² for a k that a common capture rate would
 * give: then the clip is probably slow motion, k times slower than life. Null where it is not, where
 * lengths are in pixels, or where a capture rate is set already.
 */
export function slowMotionHint(investigation: Investigation, fit: ColumnFit): SlowMotionHint | null {
  const clock = clockOf(investigation)
  const metres = metresWithin(fit.reading.unit)
  if (!clock || fit.model.id !== 'uniform-acceleration' || metres === null) return null
  if (Object.keys(investigation.timing.capture).length > 0 || clock.rate === 0) return null
  if (!isVertical(investigation, fit.quantity.direction)) return null
  const [value, error] = [metres * fit.reading.value, metres * fit.reading.error]
  for (const captureRate of COMMON_CAPTURE_RATES) {
    const factor = captureRate / clock.rate
    if (factor < 1.5) continue
    const expected = STANDARD_GRAVITY / factor ** 2
    const reach = Math.max(NEAR * expected, 3 * (Number.isFinite(error) ? error : 0))
    // An error that is as large as the value says nothing of k.
    if (reach < expected / 2 && Math.abs(Math.abs(value) - expected) < reach) return { factor, captureRate }
  }
  return null
}

function isVertical(investigation: Investigation, direction: QuantityInfo['direction']): boolean {
  if (direction === 'size') return false
  const axes = axesOf(investigation)
  const down = investigation.gravity?.direction ?? -Math.PI / 2
  const along = direction === 'y' ? axes.tilt + Math.PI / 2 : axes.tilt
  return Math.abs(Math.sin(along - down)) < Math.sin(NEARLY_VERTICAL)
}
