import type { AxisDescription, GraphDescription, Limits } from '@apokinema/core/graphs'
import { bodyNames, type Graph, type Stretch } from '@apokinema/core/investigation'
import type { Range } from '@apokinema/core/motion'
import { Box, Text, VisuallyHidden } from '@chakra-ui/react'
import { type RefObject, useEffect, useMemo, useRef, useState } from 'react'
import { useShallow } from 'zustand/react/shallow'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useLook } from '../../theme/appearance.ts'
import type { Area } from '../chart/area.ts'
import type { GraphChart } from '../chart/graphChart.ts'
import type { GraphContent, GraphLimits } from '../chart/graphDrawing.ts'
import { shownLimits, wholeLimits } from '../chart/graphLimits.ts'
import { fitCurves, graphFits, graphNotes, graphTangents, proposedCurves } from '../chart/graphModel.ts'
import { graphSlopes, handTangent } from '../chart/graphTangents.ts'
import { useBanded } from '../chart/predictionBands.ts'
import { useDraggedScale, useTimeView } from '../chart/timeView.ts'
import { useGraphChart } from '../chart/useGraphChart.ts'
import { ByEye } from '../fits/ByEye.tsx'
import { type FitProposal, useFitsProposedOn } from '../proposals/useProposedFits.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { AxisHandle } from './AxisHandle.tsx'
import { AxisMenu } from './AxisMenu.tsx'
import { HandTangentHandles } from './HandTangentHandles.tsx'
import { PointedValue } from './PointedValue.tsx'
import { useGraphHands } from './useGraphHands.ts'
import { useDrawnStretches, useGraphHighlights } from './useGraphHighlights.ts'
import { usePlotPinch } from './usePlotPinch.ts'
import { useScaleGrip } from './useScaleGrip.ts'

/** Returns the limits of a graph's axes: those of its points, or of a drag. */
function useGraphLimits(
  id: string,
  { equal, errorBars }: Graph,
  description: GraphDescription,
  all: Limits,
  area: Area | null,
): GraphLimits {
  const range = useTimeView((state) => state.seen) ?? all
  const dragged = useDraggedScale((state) => (state.dragged?.id === id ? state.dragged : null))
  // Independent of the visible times, which change with every move of a drag.
  const whole = useMemo(() => wholeLimits(description, errorBars), [description, errorBars])
  return useMemo(() => {
    if (!dragged) return shownLimits(description, equal, whole, range, area)
    const seen = { x: description.isTime ? range : whole.x, y: whole.y }
    return { ...seen, [dragged.direction]: dragged.limits }
  }, [description, equal, whole, range, area, dragged])
}

/** Returns everything that all pictures of a graph show, with its fits and its slopes. */
function useGraphContent(
  id: string,
  graph: Graph,
  description: GraphDescription,
  proposals: readonly FitProposal[],
  xLimits: Limits,
) {
  const bodies = useInvestigation((now) => now.bodies)
  const derivation = useInvestigation((now) => now.derivation)
  const banded = useBanded((state) => state.fits)
  const isTangent = graph.tangent || graph.handTangent !== null
  // Only a graph with a tangent is redrawn for every frame.
  const frame = useWorkbench((state) => (graph.tangent ? state.frame : 0))
  const fits = useInvestigation(useShallow((now) => graphFits(now, id, description)))
  const curves = useMemo(
    () => [...fitCurves(fits, banded), ...proposedCurves(proposals, description)],
    [fits, banded, proposals, description],
  )
  const slopes = useMemo(
    () => (description.isTime && isTangent ? graphSlopes(graph, description, derivation) : []),
    [description, isTangent, graph, derivation],
  )
  const seen = isTangent ? xLimits : null
  const tangents = useMemo(
    () => (seen ? graphTangents(graph, description, slopes, frame, seen) : []),
    [graph, description, slopes, frame, seen],
  )
  const notes = useMemo(() => graphNotes(graph, description), [graph, description])
  const names = useMemo(() => bodyNames(bodies), [bodies])
  const content = useMemo<GraphContent>(
    () => ({ graph, description, fits: curves, tangents, notes, names }),
    [graph, description, curves, tangents, notes, names],
  )
  return { content, fits, slopes }
}

interface GraphPlotProps {
  id: string
  graph: Graph
  description: GraphDescription
  all: Limits
  stretches: readonly (readonly [string, Stretch])[]
  /** The chosen stretch. */
  chosen: string | null
  /** Frames of the stretch being drawn. */
  drawnRange: Range | null
  setDrawnRange: (range: Range | null) => void
}

/** The plot of a graph, with its handles. */
export function GraphPlot({
  id,
  graph,
  description,
  all,
  stretches,
  chosen,
  drawnRange,
  setDrawnRange,
}: GraphPlotProps) {
  const chart = useRef<GraphChart | null>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const axisName = useRef<HTMLDivElement>(null)
  const [area, setArea] = useState<Area | null>(null)
  const { isTime, series, title } = description
  const [main] = series
  const proposals = useFitsProposedOn(id)
  const limits = useGraphLimits(id, graph, description, all, area)
  const { content, fits, slopes } = useGraphContent(id, graph, description, proposals, limits.x)
  const drawnStretches = useDrawnStretches(stretches, chosen, isTime)
  const { drawing, range, pointed, hands } = useGraphHands(id, graph, description, drawnStretches, chart)
  useEffect(() => setDrawnRange(range), [range, setDrawnRange])
  const highlights = useGraphHighlights(
    id,
    graph,
    description,
    stretches,
    drawnStretches,
    proposals,
    drawing,
    drawnRange,
  )
  const drawn = useMemo(() => ({ content, limits }), [content, limits])
  useGraphChart(canvas, chart, drawn, highlights, useLook(), axisName, setArea)
  const pinching = usePlotPinch(
    hands,
    useScaleGrip(id, 'x', description, chart),
    useScaleGrip(id, 'y', description, chart),
  )
  return (
    <Box
      flex="1"
      minHeight="0"
      position="relative"
      cursor="crosshair"
      touchAction="pan-y"
      data-x-limits={`${limits.x.from} ${limits.x.to}`}
      data-y-limits={`${limits.y.from} ${limits.y.to}`}
      {...pinching}
    >
      <Box position="absolute" inset="0">
        <canvas
          ref={canvas}
          role="img"
          aria-label={`${title}${isTime ? ' against time' : ''}, ${main.points.length} points`}
        />
      </Box>
      {(['y', 'x'] as const).map((direction) => (
        <AxisHandle key={direction} id={id} direction={direction} description={description} chart={chart} />
      ))}
      {isTime && <TangentText graph={graph} tangents={content.tangents} />}
      {isTime && area && graph.handTangent && (
        <HandTangentHandles
          id={id}
          line={graph.handTangent}
          {...handTangent(graph.handTangent, description, slopes)}
          description={description}
          limits={limits}
          area={area}
        />
      )}
      {isTime && area && <ByEye fits={fits} limits={limits} area={area} />}
      <PointedValue description={description} series={main} pointed={pointed} />
      <XAxisName ref={axisName} id={id} graph={graph} axis={description.x} />
    </Box>
  )
}

/** The slopes of the tangents for screen readers, and a message where the frame has none. */
function TangentText({
  graph: { tangent, handTangent: line },
  tangents,
}: {
  graph: Graph
  tangents: GraphContent['tangents']
}) {
  if (!tangent && !line) return null
  return (
    <>
      <VisuallyHidden data-tangent>
        {tangents.map(({ text }) => (
          <span key={text}>{text}</span>
        ))}
      </VisuallyHidden>
      {tangent && tangents.length === (line ? 1 : 0) && (
        <Text position="absolute" top="2" insetX="0" textAlign="center" fontWeight="600" pointerEvents="none">
          no slope at this frame
        </Text>
      )}
    </>
  )
}

/** The name of the x axis, which opens its menu; the tick labels leave its place free. */
function XAxisName({
  ref,
  id,
  graph,
  axis,
}: {
  ref: RefObject<HTMLDivElement | null>
  id: string
  graph: Graph
  axis: AxisDescription
}) {
  return (
    <Box
      ref={ref}
      position="absolute"
      right="3"
      bottom="1"
      bg="panel"
      paddingLeft="2"
      onPointerDown={(event) => event.stopPropagation()}
    >
      <AxisMenu id={id} graph={graph} axis={axis} direction="x" />
    </Box>
  )
}
