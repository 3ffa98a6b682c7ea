import type { PlacedByHand } from '@apokinema/core/geometry'
import type { Session } from '../document/session.ts'
import { clickAt } from './actions.ts'
import { clickWhileFollowing } from './following/followActions.ts'
import { useWorkbench } from './workbenchStore.ts'

/** Handles a click, or Enter, at a picture point according to the active mode. */
export function clickOn(session: Session, point: PlacedByHand, frame: number): void {
  if (useWorkbench.getState().mode.kind === 'follow') clickWhileFollowing(session, point, frame)
  else clickAt(session, point, frame)
}
