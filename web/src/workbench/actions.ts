import type { PlacedByHand } from '@apokinema/core/geometry'
import { edits, framesInUse } from '@apokinema/core/investigation'
import { frameCount } from '@apokinema/core/time'
import type { Session } from '../document/session.ts'
import { addPoints, markLandmark } from './calibrating.ts'
import { markHere, markSecond } from './marking.ts'
import { useWorkbench, workbench } from './workbenchStore.ts'

/** Moves forward or back by some frames; with `inSteps` along the frames in use. */
export function goBy(session: Session, count: number, inSteps: boolean): void {
  const investigation = session.document
  const { footage } = investigation
  if (!footage) return
  const last = frameCount(footage.ticks) - 1
  const { frame } = useWorkbench.getState()
  workbench.goTo(
    inSteps ? framesInUse(investigation).step(frame, count) : Math.min(last, Math.max(0, frame + count)),
  )
}

/** Handles a click at `point` (image px) on the current frame according to the active mode. */
export function clickAt(session: Session, point: PlacedByHand, frame: number): void {
  const { mode } = useWorkbench.getState()
  const investigation = session.document
  if (!investigation.footage || mode.kind === 'select' || mode.kind === 'follow') return
  const at = { ...point, frame }
  if (mode.kind === 'mark') markHere(session, mode.body, frame, point)
  else if (mode.kind === 'second') markSecond(session, mode.body, frame, point)
  else if (mode.kind === 'landmark') markLandmark(session, mode.id, at)
  else if (mode.kind === 'origin') {
    session.edit('place the origin', edits.setAxes({ origin: at }))
    workbench.leave()
    workbench.select({ kind: 'origin' })
  } else addPoints(session, [...mode.points, at])
}
