import type { GraphDescription } from '@apokinema/core/graphs'
import type { Graph, Stretch } from '@apokinema/core/investigation'
import type { Range } from '@apokinema/core/motion'
import { timeOfFrame } from '@apokinema/core/scene'
import { useMemo } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useClock } from '../ClipContext.tsx'
import type { DrawnStretch, GraphHighlights } from '../chart/highlights.ts'
import type { FitProposal } from '../proposals/useProposedFits.ts'
import { useTable } from '../tableStore.ts'
import { useTrackDiagnosis } from '../trackDiagnosis.ts'
import { useWorkbench } from '../workbenchStore.ts'

/** Returns the stretches of a graph for drawing; none if it is not against time. */
export function useDrawnStretches(
  stretches: readonly (readonly [string, Stretch])[],
  chosen: string | null,
  isTime: boolean,
): DrawnStretch[] {
  const clock = useClock()
  return useMemo(() => {
    return isTime
      ? stretches.map(([id, { number, from, to }]) => ({
          id,
          number,
          from: timeOfFrame(clock, from),
          to: timeOfFrame(clock, to),
          isChosen: id === chosen,
        }))
      : []
  }, [stretches, chosen, isTime, clock])
}

/** Returns what the screen emphasises on a graph: current frame, stretches, selected points, outliers. */
export function useGraphHighlights(
  id: string,
  graph: Graph,
  { isTime, series }: GraphDescription,
  stretches: readonly (readonly [string, Stretch])[],
  drawnStretches: readonly DrawnStretch[],
  proposals: readonly FitProposal[],
  drawing: { from: number; to: number } | null,
  drawnRange: Range | null,
): GraphHighlights {
  const clock = useClock()
  const frame = useWorkbench((state) => state.frame)
  const isPlaying = useWorkbench((state) => state.playing)
  const selection = useWorkbench((state) => state.selection)
  const rows = useTable((state) => (state.open ? state.rows : null))
  const { outliers } = useTrackDiagnosis(graph.body)
  const proposed = useMemo(
    () =>
      proposals.map(({ proposed: { stretch } }) => ({
        from: timeOfFrame(clock, stretch.from),
        to: timeOfFrame(clock, stretch.to),
      })),
    [proposals, clock],
  )
  const outlierFrames = useMemo(() => new Set(outliers.map(({ frame: at }) => at)), [outliers])
  // On a path, a stretch selected elsewhere is emphasised, too.
  const elsewhere = useInvestigation(({ stretches: known, graphs }) => {
    const selected = !isTime && selection?.kind === 'stretch' ? known[selection.id] : undefined
    const isOther = selected && selected.graph !== id && graphs[selected.graph]?.body === graph.body
    return isOther ? selected : null
  })
  const ranges = useMemo<Range[]>(() => {
    // Rows selected in the table take precedence over stretches.
    if (rows && rows.to > rows.from) return [rows]
    return [
      ...stretches.map(([, { from, to, without }]) => ({ from, to, without })),
      ...(elsewhere ? [elsewhere] : []),
      ...(!isTime && drawnRange ? [drawnRange] : []),
    ]
  }, [stretches, elsewhere, isTime, drawnRange, rows])
  return useMemo(
    () => ({
      cursor: isTime
        ? { time: timeOfFrame(clock, frame) }
        : { places: series.flatMap(({ points }) => points.filter((point) => point.frame === frame)) },
      stretches: drawnStretches,
      proposed: isTime ? proposed : [],
      drawing: isTime ? drawing : null,
      isIn:
        ranges.length === 0
          ? null
          : (at) => ranges.some(({ from, to, without }) => at >= from && at <= to && !without?.[at]),
      isOutlier: outlierFrames.size === 0 ? null : (at) => outlierFrames.has(at),
      until: isPlaying ? frame : Number.POSITIVE_INFINITY,
    }),
    [isTime, clock, frame, series, drawnStretches, proposed, drawing, ranges, outlierFrames, isPlaying],
  )
}
