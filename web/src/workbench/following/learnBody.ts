import { grownOutline, type Outline, OutlineError, outlineReach, overlap } from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import { edits, type Investigation, pictureSize } from '@apokinema/core/investigation'
import * as Comlink from 'comlink'
import { notify } from '../../common/messages.tsx'
import type { Session } from '../../document/session.ts'
import { drawnLuma, drawnPicture } from '../drawnPicture.ts'
import type { FollowWay } from '../followWays.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { useFollowing } from './followStore.ts'
import { stillFrames } from './followTargets.ts'
import { openFootage, workerFor } from './followWorker.ts'

const set = useFollowing.setState

/** Counts what is to be learned: what comes of an earlier click is let go. */
let learnings = 0

/** Lets go what is being learned. */
export function forgetLearning(): void {
  learnings++
}

/**
 * Finds out by what the body that was clicked can be followed: its outline is grown, or its colour looked at. The first
 * outline of a span has to wait until all of what stands still is known, so that the same click always gives the same
 * marks; meanwhile an outline by contrast alone shows what is meant.
 *
 * @returns the way that a person has chosen meanwhile; null for none, or if nothing was learned
 */
export async function learnBody(session: Session, frame: number, at: Point): Promise<FollowWay | null> {
  const { mode } = useWorkbench.getState()
  const from = openFootage()
  if (mode.kind !== 'follow' || !from) return null
  const investigation = session.document
  const { orientation } = investigation
  const { by } = useFollowing.getState()
  const learning = ++learnings
  const draft = by === 'template' ? outlineByContrast(investigation, frame, at) : null
  set({ phase: 'outlining', start: frame, share: null, draft, chosen: null })
  const onProgress = (share: number) => set({ share })
  const remote = workerFor(from)
  // An outline, a reason why it can't be followed, or nothing to say.
  const learned: Outline | string | null = await (by === 'template'
    ? remote.outline(from, frame, at, stillFrames(investigation), orientation, Comlink.proxy(onProgress))
    : remote.colour(from, frame, at, orientation, pictureSize(investigation))
  ).catch((error: Error) => error.message)
  const now = useWorkbench.getState().mode
  if (now.kind !== 'follow' || now.body !== mode.body || learning !== learnings) return null
  const { chosen } = useFollowing.getState()
  set({ share: null, draft: null, chosen: null })
  if (typeof learned === 'string') {
    set({ phase: 'waiting' })
    notify(learned)
    return null
  }
  if (learned) session.edit('outline the body', edits.changeBody(mode.body, { outline: learned }))
  set({ phase: 'ready' })
  return chosen
}

/** Returns an outline by contrast alone of what the stage shows; null where nothing stands out, or another frame is shown. */
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
