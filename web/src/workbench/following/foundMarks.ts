import type { Point } from '@apokinema/core/geometry'
import { edits, together } from '@apokinema/core/investigation'
import { v4 as uuid } from 'uuid'
import type { Session } from '../../document/session.ts'
import type { FollowNews, FoundMark } from '../../footage/follow/followTask.ts'
import { workbench } from '../workbenchStore.ts'
import { useFollowing } from './followStore.ts'
import { nameOf } from './followTargets.ts'

/**
 * Pause between two edits with found marks: as a multiple of the last one's duration, so that the page stays responsive,
 * and at most in milliseconds.
 */
const PAUSE = { times: 8, most: 900 }

/** Adds the marks of one run of following to the document, many at a time, as one step of the undo history. */
export class FoundMarks {
  /** Number of marks that were placed by the outline, by body. */
  readonly outlined = new Map<string, number>()
  /** Marks that are not in the document yet. */
  private waiting: FoundMark[] = []
  private lastEdit = { at: 0, took: 0 }

  constructor(
    private readonly session: Session,
    private readonly replacesHand: boolean,
    /** Name of the run's step. */
    readonly id = uuid(),
  ) {}

  /** Handles a progress report; its marks become an edit at once, or together with later ones. */
  take(news: FollowNews): void {
    this.waiting.push(...news.marks)
    const { phase } = useFollowing.getState()
    useFollowing.setState({
      news,
      ...(news.question
        ? { phase: 'asking' as const }
        : phase === 'asking'
          ? { phase: 'running' as const }
          : {}),
    })
    const pause = Math.min(PAUSE.most, PAUSE.times * this.lastEdit.took)
    if (!news.question && performance.now() - this.lastEdit.at < pause) return
    this.keep()
    workbench.goTo(news.frame)
  }

  /** Adds all waiting marks to the document. */
  keep(): void {
    const began = performance.now()
    const byBody = new Map<string, Record<string, Point & { certainty: number }>>()
    for (const { body, frame, x, y, certainty, byOutline } of this.waiting) {
      if (byOutline) this.outlined.set(body, (this.outlined.get(body) ?? 0) + 1)
      const marks = byBody.get(body) ?? {}
      marks[frame] = { x, y, certainty }
      byBody.set(body, marks)
    }
    this.waiting = []
    const { document } = this.session
    if (byBody.size > 0)
      this.session.edit(
        byBody.size === 1 ? `follow ${nameOf(document, [...byBody.keys()][0])}` : 'follow bodies',
        together(
          ...[...byBody].map(([id, marks]) =>
            document.bodies[id]
              ? edits.setFollowed(id, marks, this.replacesHand)
              : edits.followLandmark(id, marks, this.replacesHand),
          ),
        ),
        this.id,
      )
    const now = performance.now()
    this.lastEdit = { at: now, took: now - began }
  }
}
