import type { Change, Outline } from '@apokinema/core/following'
import { openedState } from '../../document/openedState.ts'
import type { FollowNews } from '../../footage/follow/followTask.ts'
import type { FollowWay } from '../followWays.ts'

/** State of following: waiting for a click, growing the outline, ready, running, paused, asking a question. */
type Phase = 'waiting' | 'outlining' | 'ready' | 'running' | 'paused' | 'asking'

export interface FollowingState {
  phase: Phase
  /** The frame of the outline, from which the body is followed. */
  start: number
  persistence: number
  change: Change
  /** Frames of the first direction, if it goes both ways. */
  doneBefore: number
  /** The current direction, and whether it goes back afterwards. */
  way: 'on' | 'back'
  isBackNext: boolean
  /** Whether other bodies with an outline that are marked in the same frame are followed in the same pass. */
  together: boolean
  replacesHand: boolean
  /** What determines the position of bodies that are followed by their template: the steadier of both, or a person's choice. */
  placedBy: 'either' | 'outline' | 'template'
  /** Whether the active body is followed by its template, within its outline, or by the clicked colour. */
  by: 'template' | 'colour'
  /** Whether the landmarks of a moving camera are followed in the same pass. */
  landmarks: boolean
  /** Progress of learning the background, 0 to 1; null when it is not being learned. */
  share: number | null
  /** Meanwhile: the outline by contrast in the displayed picture, which may include parts of the background. */
  draft: Outline | null
  /** The direction chosen before the outline was ready: it starts as soon as it is. */
  chosen: FollowWay | null
  total: number
  news: FollowNews | null
  /** The frames in which a proposed body was seen, while it is followed; null: a body that a person has chosen. */
  seen: { first: number; last: number } | null
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
  seen: null,
}

/** State of following; only the marks and the outline are saved. */
export const useFollowing = openedState<FollowingState>('following', START)

/** Changes the options of following. */
export function setFollowing(
  change: Partial<
    Pick<FollowingState, 'persistence' | 'change' | 'placedBy' | 'together' | 'replacesHand' | 'landmarks'>
  >,
): void {
  useFollowing.setState(change)
}
