import type { PlacedByHand } from '@apokinema/core/geometry'
import type { Session } from '../document/session.ts'
import { clickAt } from './actions.ts'
import { clickWhileFollowing } from './following/followActions.ts'
import { useWorkbench } from './workbenchStore.ts'

/** Does what a click, or Enter, at a picture point means in the present mode. */
export function clickOn(session: Session, point: PlacedByHand, frame: number): void {
  if (useWorkbench.getState().mode.kind === 'follow') clickWhileFollowing(session, point, frame)
  else clickAt(session, point, frame)
}
