import type { Scale } from '../geometry/index.ts'
import { type Investigation, inOrder, type KnownMotion } from '../investigation/index.ts'
import { FitError } from '../regression/index.ts'
import type { PixelScene } from '../scene/index.ts'
import { columnSample } from './columnSample.ts'
import { tablesOf } from './motionTable.ts'
import { alongLine } from './quantities/index.ts'

/** Returns the scales that known motions give, in their order, each read from a table in pixels; without those that can't be fitted. */
export function motionScales(investigation: Investigation, pixels: PixelScene): Scale[] {
  return inOrder(investigation.knownMotions).flatMap(
    ([, known]) => scaleOfMotion(investigation, known, pixels) ?? [],
  )
}

/**
 * Returns the scale from a known motion: the known value over the one that a fit reads in pixels; null if it can't be fitted.
 */
function scaleOfMotion(investigation: Investigation, known: KnownMotion, pixels: PixelScene): Scale | null {
  const stretch = investigation.stretches[known.stretch]
  const graph = stretch && investigation.graphs[stretch.graph]
  if (!graph) return null
  const table = tablesOf(investigation, pixels(graph.axes), () => null, graph)(graph.body)
  const line = alongLine(graph.quantity)
  const degree = known.derivative - (line?.order ?? Number.POSITIVE_INFINITY)
  if (!(degree >= 0)) return null
  try {
    const sample = columnSample(table, graph.quantity, stretch)
    const fit = sample.fit(degree)
    const factor = degree === 2 ? 2 : 1
    const read = Math.abs(factor * fit.coefficients[degree])
    const error = factor * Math.sqrt(fit.covariance[degree][degree])
    if (!(read > 0) || !Number.isFinite(error)) return null
    return {
      metresPerPixel: known.value / read,
      parts: [
        { source: 'motion', error: error / read, freedom: fit.freedom },
        {
          source: 'length',
          error: Math.hypot(known.error / known.value, known.derivative * table.rateError),
          freedom: Number.POSITIVE_INFINITY,
        },
      ],
    }
  } catch (error) {
    if (error instanceof FitError) return null
    throw error
  }
}
