import { type Corners, enlargement, placingErrorOf, planeStep, type Scale } from '../geometry/index.ts'
import type { Investigation, KnownMotion, Plane } from '../investigation/index.ts'
import { FitError } from '../regression/index.ts'
import { columnSample } from './columnSample.ts'
import type { InvestigationScene } from './investigationScene.ts'
import { tablesOf } from './motionTable.ts'
import { alongLine } from './quantities/index.ts'

export type SizedPlane = Plane & { width: number; height: number }

/** Returns metres per pixel in the middle of the plane, with its error from the corners and the stated size. */
export function planeScale(
  corners: Corners,
  { width, height, sizeError, corners: placed }: SizedPlane,
): Scale {
  const middle = { x: width / 2, y: height / 2 }
  const sizeAt = (points: Corners) => {
    const step = planeStep(points, width, height)
    if (!step) return Number.NaN
    return enlargement(step.jacobian(step.backward(middle)))
  }
  const size = sizeAt(corners)
  let square = 0
  corners.forEach((corner, i) => {
    const error = placingErrorOf(placed[i])
    for (const [dx, dy] of [
      [error, 0],
      [0, error],
    ]) {
      const moved = corners.map((other, k) =>
        k === i ? { x: corner.x + dx, y: corner.y + dy } : other,
      ) as Corners
      square += (sizeAt(moved) / size - 1) ** 2
    }
  })
  const stated = { freedom: Number.POSITIVE_INFINITY }
  return {
    metresPerPixel: size,
    parts: [
      { source: 'placing', error: Math.sqrt(square), ...stated },
      { source: 'length', error: sizeError, ...stated },
    ],
  }
}

/**
 * Returns the scale from a known motion: the known value over the one that a fit reads in pixels; null if it can't be fitted.
 *
 * @param pixels returns the scene without a scale, in some axes
 */
export function scaleOfMotion(
  investigation: Investigation,
  known: KnownMotion,
  pixels: (axes: string | null) => InvestigationScene,
): Scale | null {
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
    const stated = { freedom: Number.POSITIVE_INFINITY }
    return {
      metresPerPixel: known.value / read,
      parts: [
        { source: 'motion', error: error / read, freedom: fit.freedom },
        {
          source: 'length',
          error: Math.hypot(known.error / known.value, known.derivative * table.rateError),
          ...stated,
        },
      ],
    }
  } catch (error) {
    if (error instanceof FitError) return null
    throw error
  }
}
