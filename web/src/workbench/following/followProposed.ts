import type { Point } from '@apokinema/core/geometry'
import { edits, framesInUse, together } from '@apokinema/core/investigation'
import {
  framesSeen,
  frameToFollowFrom,
  outlineToFollow,
  type ProposedBody,
  placeOfProposed,
} from '@apokinema/core/proposals'
import { v4 as uuid } from 'uuid'
import { notify } from '../../common/messages.tsx'
import type { Session } from '../../document/session.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { follow } from './followRun.ts'
import { useFollowing } from './followStore.ts'
import { openFootage } from './followWorker.ts'
import { forgetLearning, learn } from './learnBody.ts'

/**
 * Adds a proposed body and follows it both ways from the frame in which it is seen best, as one step of the undo history.
 * Its outline is grown there as after a click.
 */
export async function followProposed(session: Session, proposed: ProposedBody): Promise<void> {
  if (!openFootage() || useWorkbench.getState().mode.kind === 'follow') return
  const start = frameToFollowFrom(proposed, usedFramesSeen(session, proposed))
  if (start === null) return
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
  const grown = typeof learned === 'string' ? null : learned
  const { outline, by } = outlineToFollow(proposed, grown, session.document.plane !== null)
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
