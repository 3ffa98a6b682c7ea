import { sizeOf } from '@apokinema/core/following'
import { distance } from '@apokinema/core/geometry'
import { memo } from 'react'
import { useInvestigation } from '../../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../../theme/system.ts'
import { useFollowing } from '../../following/followStore.ts'
import { HANDLE_EVERY } from '../../selecting.ts'
import { DARK, LIGHT } from '../../strokes.ts'
import { useWorkbench } from '../../workbenchStore.ts'
import { outlinePoints } from '../hitTest.ts'
import type { OverlayProps } from './overlayProps.ts'
import { Edged, Handle } from './strokes.tsx'

/** A reach of more pixels than this is the whole picture: a circle says nothing. */
const WIDE = 240

/** A body of a smaller radius on the screen than this, in CSS pixels, would be hidden by the handles of its outline. */
const SMALL = 34
/** From how near the pointer brings the handle of such a body, in CSS pixels. */
const NEAR = 14

/** Outlines of what is to be followed, and while it goes on where each body is looked for. */
export const Follow = memo(function Follow({
  toStage,
  zoom,
}: Pick<OverlayProps, 'toStage'> & { zoom: number }) {
  const mode = useWorkbench((state) => state.mode)
  // Only what is being followed looks at the marks.
  const bodies = useInvestigation((now) => (mode.kind === 'follow' ? now.bodies : null))
  const shown = useWorkbench((state) => state.shown)
  const selection = useWorkbench((state) => state.selection)
  const reticle = useWorkbench((state) => (mode.kind === 'follow' ? state.reticle : null))
  const { phase, start, draft, news, by } = useFollowing()
  if (mode.kind !== 'follow' || !bodies) return null
  if (phase === 'ready' && shown === start && by === 'template') {
    const { outline, marks, colour } = bodies[mode.body]
    if (!outline || !marks[start]) return null
    const points = outlinePoints(marks[start], outline.radii).map(toStage)
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
        <Edged points={points} closed width={2} colour={BODY_PAINT[colour].mark} />
        {handles.filter(isShown).map(({ at, direction, isChosen }) => (
          <Handle key={direction} at={at} small chosen={isChosen} />
        ))}
      </>
    )
  }
  if (phase === 'outlining') {
    const { marks, colour } = bodies[mode.body]
    if (!draft || !marks[start] || shown !== start) return null
    const points = outlinePoints(marks[start], draft.radii).map(toStage)
    return <Edged points={points} closed width={2} colour={BODY_PAINT[colour].mark} dash={[6, 6]} />
  }
  if (!news || phase === 'waiting') return null
  return (
    <>
      {news.reaches.map(({ body, at, radius }) => {
        const here = toStage(at)
        const circle = (stroke: string, strokeWidth: number) => (
          <circle
            cx={here.x}
            cy={here.y}
            r={radius * zoom}
            fill="none"
            stroke={stroke}
            strokeWidth={strokeWidth}
            strokeDasharray="7 5"
          />
        )
        return (
          <g key={body}>
            {radius < WIDE && circle(DARK, 3.6)}
            {radius < WIDE && circle(LIGHT, 1.4)}
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
      })}
      {news.question?.places.map((place) => (
        <Handle key={`${place.x} ${place.y}`} at={toStage(place)} chosen />
      ))}
    </>
  )
})
