import type { Change, Outline } from '@apokinema/core/following'
import { openedState } from '../../document/openedState.ts'
import type { FollowNews } from '../../footage/follow/followTask.ts'
import type { FollowWay } from '../followWays.ts'

/** Where following stands: nothing clicked yet, an outline being grown, ready to go, going, held, asking. */
type Phase = 'waiting' | 'outlining' | 'ready' | 'running' | 'paused' | 'asking'

export interface FollowingState {
  phase: Phase
  /** The frame in which the outline stands, and from which it is followed. */
  start: number
  persistence: number
  change: Change
  /** Frames that were gone through on a way before, where it goes both ways. */
  doneBefore: number
  /** The way that it goes now, and whether it goes back afterwards. */
  way: 'on' | 'back'
  isBackNext: boolean
  /** Whether other bodies with an outline that are marked in the same frame are followed in the same pass. */
  together: boolean
  replacesHand: boolean
  /** What tells the place of bodies that are followed by their look: what proves steadier, or what a person chose. */
  placedBy: 'either' | 'outline' | 'template'
  /** Whether the active body is followed by its look, within its outline, or by the colour that was clicked. */
  by: 'template' | 'colour'
  /** Whether the landmarks of a moving camera are followed in the same pass. */
  landmarks: boolean
  /** How much of what stands still has been looked at, 0 to 1, while that goes on. */
  share: number | null
  /** While that goes on: the outline by contrast in the picture that is shown, which may still take in what is behind the body. */
  draft: Outline | null
  /** The way that was chosen before the outline was ready: it goes as soon as it is. */
  chosen: FollowWay | null
  total: number
  news: FollowNews | null
}

export const START: FollowingState = {
  phase: 'waiting',
  start: 0,
  persistence: 0.5,
  change: 'slowly',
  doneBefore: 0,
  way: 'on',
  isBackNext: false,
  together: true,
  replacesHand: false,
  placedBy: 'either',
  by: 'template',
  landmarks: true,
  share: null,
  draft: null,
  chosen: null,
  total: 0,
  news: null,
}

/** How following stands; nothing of it is saved but the marks and the outline. */
export const useFollowing = openedState<FollowingState>('following', START)

/** Changes how is followed. */
export function setFollowing(
  change: Partial<
    Pick<FollowingState, 'persistence' | 'change' | 'placedBy' | 'together' | 'replacesHand' | 'landmarks'>
  >,
): void {
  useFollowing.setState(change)
}
