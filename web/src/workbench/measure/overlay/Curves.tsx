import type { Point } from '@apokinema/core/geometry'
import type { Investigation } from '@apokinema/core/investigation'
import { type MotionTable, sceneOf } from '@apokinema/core/motion'
import { memo, useMemo } from 'react'
import { fittedOn } from '../../fits/fits.ts'
import { tableOf } from '../../tables.ts'
import type { Seeing } from './Overlay.tsx'
import { Edged } from './strokes.tsx'

/** Points of a curve of which both coordinates are fitted. */
const POINTS = 80

/** A path in the scene that fits tell, in the axes that it was measured in. */
interface Path {
  key: string
  axes: string | null
  points: Point[]
}

/** Fitted motions as lines on the picture. */
export const Curves = memo(function Curves({ investigation, toStage, frame }: Seeing) {
  const { curves } = investigation.drawn
  const paths = useMemo(() => (curves ? fittedPaths(investigation) : []), [investigation, curves])
  return paths.map(({ key, axes, points }) => {
    const transform = sceneOf(investigation, axes).at(frame)
    return (
      transform && (
        <Edged
          key={key}
          width={1.4}
          dash={[9, 5]}
          points={points.map((point) => toStage(transform.toPicture(point)))}
        />
      )
    )
  })
})

/**
 * The paths of all fits to positions: where both coordinates of a body are fitted over a common time, the fitted
 * path; where one is, that one against what the marks say of the other.
 */
function fittedPaths(investigation: Investigation): Path[] {
  const { bodies, graphs, fits: all, stretches } = investigation
  const fitted = new Set(Object.values(all).map(({ stretch }) => stretches[stretch]?.graph))
  const fits = Object.entries(graphs).flatMap(([id, { body, quantity, axes }]) => {
    // A table is made only where something was fitted: this is drawn anew with every mark.
    if (!fitted.has(id) || (quantity !== 'x' && quantity !== 'y')) return []
    if (!bodies[body] || bodies[body].hidden) return []
    return fittedOn(investigation, id, (graph, of) =>
      tableOf(investigation, of, { axes: graph.axes }),
    ).flatMap(({ id: key, fit }) => (fit ? [{ key, body, axes, along: quantity, fit }] : []))
  })
  return fits.flatMap(({ key, body, axes, along, fit }): Path[] => {
    const across = along === 'x' ? 'y' : 'x'
    const others = fits.filter((one) => one.body === body && one.axes === axes && one.along === across)
    const partner = others.find((one) => one.fit.from < fit.to && one.fit.to > fit.from)
    // Of two fits that make one path the one along x draws it.
    if (partner && along === 'y') return []
    const at = (own: number, other: number): Point =>
      along === 'x' ? { x: own, y: other } : { x: other, y: own }
    if (partner) {
      const from = Math.max(fit.from, partner.fit.from)
      const step = (Math.min(fit.to, partner.fit.to) - from) / POINTS
      const times = Array.from({ length: POINTS + 1 }, (_, i) => from + i * step)
      const points = times.map((t) => at(fit.valueAt(t), partner.fit.valueAt(t)))
      return [{ key, axes, points }]
    }
    const table = tableOf(investigation, body, { axes })
    const points = rowsBetween(table, fit.from, fit.to).map((row) =>
      at(fit.valueAt(table.times[row]), table.column(across).values[row]),
    )
    return [{ key, axes, points }]
  })
}

function rowsBetween({ times }: MotionTable, from: number, to: number): number[] {
  return Array.from(times, (_, row) => row).filter((row) => times[row] >= from && times[row] <= to)
}
