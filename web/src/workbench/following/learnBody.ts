import { grownOutline, type Outline, OutlineError, outlineReach, overlap } from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import { edits, type Investigation, pictureSize } from '@apokinema/core/investigation'
import * as Comlink from 'comlink'
import { notify } from '../../common/messages.tsx'
import type { Session } from '../../document/session.ts'
import { stillFrames } from '../../footage/follow/clipOfTask.ts'
import { drawnLuma, drawnPicture } from '../drawnPicture.ts'
import type { FollowWay } from '../followWays.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { useFollowing } from './followStore.ts'
import { openFootage, workerFor } from './followWorker.ts'

const set = useFollowing.setState

/** Counts requests to learn: the result of an earlier click is discarded. */
let learnings = 0

/** Discards what is being learned. */
export function forgetLearning(): void {
  learnings++
}

/**
 * Learns how the clicked body can be followed: grows its outline, or checks its colour. The first
 * outline of a span waits until the whole background is known, so that the same click always results in the same
 * marks; meanwhile an outline by contrast alone is shown.
 *
 * @returns the direction that a person has chosen meanwhile; null for none, or if nothing was learned
 */
export async function learnBody(session: Session, frame: number, at: Point): Promise<FollowWay | null> {
  const learned = await learn(session, frame, at)
  const { mode } = useWorkbench.getState()
  if (learned === undefined || mode.kind !== 'follow') return null
  if (typeof learned === 'string') {
    set({ phase: 'waiting', chosen: null })
    notify(learned)
    return null
  }
  const { chosen } = useFollowing.getState()
  if (learned) session.edit('outline the body', edits.changeBody(mode.body, { outline: learned }))
  set({ phase: 'ready', chosen: null })
  return chosen
}

/**
 * Grows the outline of the body at a point, or checks its colour.
 *
 * @returns an outline; null for a colour; a message if nothing can be followed there; undefined if another body was chosen
 * meanwhile, or following was left
 */
export async function learn(
  session: Session,
  frame: number,
  at: Point,
): Promise<Outline | string | null | undefined> {
  const { mode } = useWorkbench.getState()
  const from = openFootage()
  if (mode.kind !== 'follow' || !from) return undefined
  const investigation = session.document
  const { orientation } = investigation
  const { by } = useFollowing.getState()
  const learning = ++learnings
  const draft = by === 'template' ? outlineByContrast(investigation, frame, at) : null
  set({ phase: 'outlining', start: frame, share: null, draft, chosen: null })
  const onProgress = (share: number) => set({ share })
  const remote = workerFor(from)
  const learned = await (by === 'template'
    ? remote.outline(from, frame, at, stillFrames(investigation), orientation, Comlink.proxy(onProgress))
    : remote.colour(from, frame, at, orientation, pictureSize(investigation))
  ).catch((error: Error) => error.message)
  const now = useWorkbench.getState().mode
  if (now.kind !== 'follow' || now.body !== mode.body || learning !== learnings) return undefined
  set({ share: null, draft: null })
  return learned
}

/** Returns an outline by contrast alone in the displayed picture; null if nothing stands out, or another frame is displayed. */
function outlineByContrast(investigation: Investigation, frame: number, at: Point): Outline | null {
  const drawn = drawnPicture()
  if (drawn?.frame !== frame) return null
  const rect = overlap(outlineReach(at), { x: 0, y: 0, ...pictureSize(investigation) })
  if (rect.width === 0 || rect.height === 0) return null
  try {
    return grownOutline({ ...rect, data: drawnLuma(drawn, rect).data }, at, null)
  } catch (error) {
    if (error instanceof OutlineError) return null
    throw error
  }
}
