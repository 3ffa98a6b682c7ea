import { analyse } from '@apokinema/core/analysis'
import type { Point } from '@apokinema/core/geometry'
import { type Investigation, indexOfFrame } from '@apokinema/core/investigation'
import type { MotionTable } from '@apokinema/core/motion'
import { memo, useMemo } from 'react'
import { useWorkbench } from '../../workbenchStore.ts'
import type { OverlayProps } from './overlayProps.ts'
import { Edged } from './strokes.tsx'

/** Least number of points of a curve of which both coordinates are fitted. */
const POINTS = 80
/** Maximum number of points drawn, around the current frame: more would hide the picture. */
const MOST_DRAWN = 400

/** A fitted path in the scene, in the axes in which it was measured. */
interface Path {
  key: string
  axes: string | null
  /** Frames of its points, increasing, if it has more points than are drawn. */
  frames: number[]
  points: Point[]
}

/** Fitted motions as lines on the picture. */
export const Curves = memo(function Curves({ investigation, toStage, frame }: OverlayProps) {
  const { curves } = investigation.drawn
  const paths = useMemo(() => (curves ? fittedPaths(investigation) : []), [investigation, curves])
  const isLong = paths.some(({ points }) => points.length > MOST_DRAWN)
  // Only the drawn part of a long path changes with the frame.
  const around = useWorkbench((state) => (isLong ? (state.shown ?? state.frame) : 0))
  return paths.map(({ key, axes, frames, points }) => {
    const transform = analyse(investigation).scene(axes).at(frame)
    const first = Math.max(0, indexOfFrame(frames, around) - MOST_DRAWN / 2)
    const drawn = points.length > MOST_DRAWN ? points.slice(first, first + MOST_DRAWN) : points
    return (
      transform && (
        <Edged
          key={key}
          width={1.4}
          dash={[9, 5]}
          points={drawn.map((point) => toStage(transform.toPicture(point)))}
        />
      )
    )
  })
})

/**
 * Returns the paths of all fits to positions: the fitted path where both coordinates of a body are fitted over a common
 * time; where one is, that one against the marks' values of the other.
 */
function fittedPaths(investigation: Investigation): Path[] {
  const { bodies, graphs, fits: all, stretches } = investigation
  const fitted = new Set(Object.values(all).map(({ stretch }) => stretches[stretch]?.graph))
  const fits = Object.entries(graphs).flatMap(([id, { body, quantity, axes }]) => {
    // A table is computed only if something was fitted: this runs with every mark.
    if (!fitted.has(id) || (quantity !== 'x' && quantity !== 'y')) return []
    if (!bodies[body] || bodies[body].hidden) return []
    return analyse(investigation)
      .fits(id, 'scene')
      .flatMap(({ id: key, fit }) => (fit ? [{ key, body, axes, along: quantity, fit }] : []))
  })
  return fits.flatMap(({ key, body, axes, along, fit }): Path[] => {
    const across = along === 'x' ? 'y' : 'x'
    const others = fits.filter((one) => one.body === body && one.axes === axes && one.along === across)
    const partner = others.find((one) => one.fit.from < fit.to && one.fit.to > fit.from)
    // Of two fits that form one path, the one along x draws it.
    if (partner && along === 'y') return []
    const at = (own: number, other: number): Point =>
      along === 'x' ? { x: own, y: other } : { x: other, y: own }
    const table = analyse(investigation).table(body, { axes })
    if (!partner) {
      const rows = rowsBetween(table, fit.from, fit.to)
      const { values } = table.column(across)
      return [
        {
          key,
          axes,
          frames: rows.map((row) => table.frames[row]),
          points: rows.map((row) => at(fit.valueAt(table.times[row]), values[row])),
        },
      ]
    }
    const from = Math.max(fit.from, partner.fit.from)
    const to = Math.min(fit.to, partner.fit.to)
    const rows = rowsBetween(table, from, to)
    // Between few marks the curve is sampled evenly; of many, once per mark.
    const times =
      rows.length > POINTS
        ? rows.map((row) => table.times[row])
        : Array.from({ length: POINTS + 1 }, (_, i) => from + (i * (to - from)) / POINTS)
    const frames = rows.map((row) => table.frames[row])
    return [{ key, axes, frames, points: times.map((t) => at(fit.valueAt(t), partner.fit.valueAt(t))) }]
  })
}

function rowsBetween({ times }: MotionTable, from: number, to: number): number[] {
  return Array.from(times, (_, row) => row).filter((row) => times[row] >= from && times[row] <= to)
}
