import { sizeOf } from '@apokinema/core/following'
import { distance, type Point } from '@apokinema/core/geometry'
import type { Body } from '@apokinema/core/investigation'
import { memo } from 'react'
import { useInvestigation } from '../../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../../theme/palettes.ts'
import { useFollowing } from '../../following/followStore.ts'
import { HANDLE_EVERY } from '../../selecting.ts'
import { DARK, LIGHT } from '../../strokes.ts'
import { useWorkbench } from '../../workbenchStore.ts'
import { outlinePoints } from '../hitTest.ts'
import type { OverlayProps } from './overlayProps.ts'
import { Edged, Handle } from './strokes.tsx'

/** Search radius in pixels above which no circle is drawn: it covers the whole picture. */
const WIDE = 240

/** Radius in CSS pixels below which a body would be hidden by the handles of its outline. */
const SMALL = 34
/** Distance in CSS pixels within which the pointer shows a handle of such a body. */
const NEAR = 14

/** Outlines before following, and the search regions during it. */
export const Follow = memo(function Follow({
  toStage,
  zoom,
}: Pick<OverlayProps, 'toStage'> & { zoom: number }) {
  const mode = useWorkbench((state) => state.mode)
  // Subscribes to the marks only while following.
  const bodies = useInvestigation((now) => (mode.kind === 'follow' ? now.bodies : null))
  const shown = useWorkbench((state) => state.shown)
  const { phase, start, draft, news, by } = useFollowing()
  if (mode.kind !== 'follow' || !bodies) return null
  if (phase === 'ready' && shown === start && by === 'template') {
    return <OutlineHandles body={bodies[mode.body]} frame={start} toStage={toStage} zoom={zoom} />
  }
  if (phase === 'outlining') {
    const { marks, colour } = bodies[mode.body]
    if (!draft || !marks[start] || shown !== start) return null
    const points = outlinePoints(marks[start], draft.radii).map(toStage)
    return <Edged points={points} closed width={2} colour={BODY_PAINT[colour]} dash={[6, 6]} />
  }
  if (!news || phase === 'waiting') return null
  return (
    <>
      {news.reaches.map(({ body, at, radius }) => (
        <Reach key={body} here={toStage(at)} radius={radius * zoom} isWide={radius >= WIDE} />
      ))}
      {news.question?.places.map((place) => (
        <Handle key={`${place.x} ${place.y}`} at={toStage(place)} chosen />
      ))}
    </>
  )
})

/** The outline of a body before it is followed, with handles; those of a small body only near the pointer. */
function OutlineHandles({
  body,
  frame,
  toStage,
  zoom,
}: {
  body: Body
  frame: number
  toStage: OverlayProps['toStage']
  zoom: number
}) {
  const selection = useWorkbench((state) => state.selection)
  const reticle = useWorkbench((state) => state.reticle)
  const { outline, marks, colour } = body
  if (!outline || !marks[frame]) return null
  const points = outlinePoints(marks[frame], outline.radii).map(toStage)
  const handles = points
    .map((at, direction) => ({ at, direction }))
    .filter(({ direction }) => direction % HANDLE_EVERY === 0)
    .map((handle) => ({
      ...handle,
      isChosen: selection?.kind === 'outline' && selection.direction === handle.direction,
    }))
  const pointer = reticle && toStage(reticle)
  const isSmall = sizeOf(outline) * zoom < SMALL
  const isShown = ({ at, isChosen }: (typeof handles)[number]) =>
    !isSmall || isChosen || (pointer !== null && distance(pointer, at) < NEAR)
  return (
    <>
      <Edged points={points} closed width={2} colour={BODY_PAINT[colour]} />
      {handles.filter(isShown).map(({ at, direction, isChosen }) => (
        <Handle key={direction} at={at} small chosen={isChosen} />
      ))}
    </>
  )
}

/** Where a body is looked for: a cross, and a circle of a radius in CSS pixels. */
function Reach({ here, radius, isWide }: { here: Point; radius: number; isWide: boolean }) {
  const circle = (stroke: string, strokeWidth: number) => (
    <circle
      cx={here.x}
      cy={here.y}
      r={radius}
      fill="none"
      stroke={stroke}
      strokeWidth={strokeWidth}
      strokeDasharray="7 5"
    />
  )
  return (
    <g>
      {!isWide && circle(DARK, 3.6)}
      {!isWide && circle(LIGHT, 1.4)}
      <Edged
        width={1.2}
        points={[
          { x: here.x - 6, y: here.y },
          { x: here.x + 6, y: here.y },
        ]}
      />
      <Edged
        width={1.2}
        points={[
          { x: here.x, y: here.y - 6 },
          { x: here.x, y: here.y + 6 },
        ]}
      />
    </g>
  )
}
