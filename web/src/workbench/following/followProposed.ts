import { centroidOf, footOf, type Outline, outlineArea, recentredOutline } from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import { edits, framesInUse, together } from '@apokinema/core/investigation'
import { framesSeen, type ProposedBody, placeOfProposed } from '@apokinema/core/proposals'
import { v4 as uuid } from 'uuid'
import { notify } from '../../common/messages.tsx'
import type { Session } from '../../document/session.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { follow } from './followRun.ts'
import { useFollowing } from './followStore.ts'
import { openFootage } from './followWorker.ts'
import { forgetLearning, learn } from './learnBody.ts'

/** Ratio of the areas of an outline that is grown and of what was seen to move, up to which the former is taken. */
const ALIKE = 2.5

/**
 * Adds a proposed body and follows it both ways from the frame in which it is seen best, as one step of the undo history.
 * Its outline is grown there as after a click, and its marks are placed at the centroid of that; where the plane of motion is seen at
 * an angle at its foot, since what stands above that plane appears farther away on it.
 */
export async function followProposed(session: Session, proposed: ProposedBody): Promise<void> {
  if (!openFootage() || useWorkbench.getState().mode.kind === 'follow') return
  const { best } = proposed
  const used = usedFramesSeen(session, proposed)
  if (used.length === 0) return
  const start = used.reduce((near, frame) =>
    Math.abs(frame - best.frame) < Math.abs(near - best.frame) ? frame : near,
  )
  const at = placeOfProposed(proposed, start)!
  const [step, body] = [uuid(), uuid()]
  const marked = (point: Point) => edits.setFollowed(body, { [start]: { ...point, certainty: 1 } })
  session.edit(
    'follow what moves',
    together(edits.addBody(body, { position: uuid(), velocity: uuid() }), marked(at)),
    step,
  )
  workbench.setBody(body)
  workbench.goTo(start)
  workbench.enter({ kind: 'follow', body })
  forgetLearning()
  useFollowing.setState({ news: null, chosen: null, by: 'template', seen: framesSeen(proposed) })
  const learned = await learn(session, start, at)
  if (learned === undefined) return
  const seen = isAlike(learned, proposed.outline) ? learned : proposed.outline
  const { outline, by } = recentred(seen, session.document.plane ? footOf(seen) : centroidOf(seen))
  session.edit(
    'outline the body',
    together(edits.changeBody(body, { outline }), marked({ x: at.x + by.x, y: at.y + by.y })),
    step,
  )
  useFollowing.setState({ phase: 'ready' })
  await follow(session, undefined, step)
}

/** Returns the frames in use in which a proposed body was seen; shows a message if there are none. */
export function usedFramesSeen({ document }: Session, proposed: ProposedBody): number[] {
  const { first, last } = framesSeen(proposed)
  const used = framesInUse(document).list.filter((frame) => frame >= first && frame <= last)
  if (used.length === 0) notify(`It moves in frames ${first} to ${last}, and none of them is in use.`)
  return used
}

/** Returns true if an outline was grown that may be of what was seen to move: neither a part of it nor the wall behind it. */
function isAlike(learned: Outline | string | null, seen: Outline): learned is Outline {
  if (learned === null || typeof learned === 'string') return false
  const ratio = outlineArea(learned) / outlineArea(seen)
  return ratio < ALIKE && ratio > 1 / ALIKE
}

/** Returns an outline relative to another point, and that point; as it was if that lies outside of it. */
function recentred(outline: Outline, by: Point): { outline: Outline; by: Point } {
  const moved = recentredOutline(outline, by)
  return moved ? { outline: moved, by } : { outline, by: { x: 0, y: 0 } }
}
