import { memo } from 'react'

const WIDTH = 44
const HEIGHT = 32
/** Size of a small picture in CSS pixels. */
export const SMALL = { width: WIDTH, height: HEIGHT }
/** Space around a curve. */
const EDGE = 4
/** Number of points that show how a curve goes. */
const MOST_POINTS = 40

/** Returns points as those of an SVG polyline that fills a small picture. */
export function smallCurve(all: readonly { x: number; y: number }[]): string {
  const every = Math.max(1, Math.floor(all.length / MOST_POINTS))
  const points = all.filter((_, i) => i % every === 0)
  const place = (values: number[], length: number) => {
    const [low, high] = [Math.min(...values), Math.max(...values)]
    return values.map((value) => EDGE + ((value - low) / (high - low || 1)) * (length - 2 * EDGE))
  }
  const x = place(
    points.map((point) => point.x),
    WIDTH,
  )
  const y = place(
    points.map((point) => -point.y),
    HEIGHT,
  )
  return x.map((left, i) => `${left.toFixed(1)},${y[i].toFixed(1)}`).join(' ')
}

/** A curve in a few pixels; `points` are those of an SVG polyline. */
export const SmallCurve = memo(function SmallCurve({ points, colour }: { points: string; colour: string }) {
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true">
      <polyline points={points} fill="none" stroke={colour} strokeWidth={1.5} />
    </svg>
  )
})
