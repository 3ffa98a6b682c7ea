import { outlineArea } from '@apokinema/core/following'
import {
  edit,
  edits,
  framesInUse,
  framesOf,
  type Investigation,
  inOrder,
  type Mutator,
  together,
} from '@apokinema/core/investigation'
import {
  framesSeen,
  frameToFollowFrom,
  isNearEnd,
  outlineToFollow,
  type ProposedBody,
  placeOfProposed,
  proposedBodies,
} from '@apokinema/core/proposals'
import { clockOf } from '@apokinema/core/scene'
import { type AxesRule, type Measuring, settleTrial } from '@apokinema/core/series'
import * as Comlink from 'comlink'
import { surveys } from '../document/localStore.ts'
import { clipOfTask, stillFrames } from '../footage/follow/clipOfTask.ts'
import { type FollowNews, patienceOf } from '../footage/follow/followTask.ts'
import type { FollowWorker } from '../footage/follow.worker.ts'
import type { Survey, Surveyor } from '../footage/survey.worker.ts'
import { framesAlong } from '../workbench/followWays.ts'

/** What is being done for a trial, and how much of it is done, 0 to 1. */
export interface MeasuringProgress {
  doing: 'reading' | 'following'
  share: number
}

/** What came of measuring a trial: edits of its investigation, and what a person has to look at. */
export interface Measured {
  mutators: Mutator[]
  question: Extract<Measuring, { kind: 'question' }> | null
}

/** Persistence with which bodies are followed. */
const PERSISTENCE = 0.5
/** Marks from which the motion backwards is estimated to begin with. */
const BEHIND = 4

/**
 * Measures a trial by itself: finds what moves, follows each body both ways from the frame in which it is seen best, and places the
 * stretches where the motion has the pattern's laws. Whatever is uncertain becomes a question; marks that were found until then stay.
 *
 * @param document of the trial
 * @param from file or address of its clip
 */
export async function measureTrial(
  document: Investigation,
  pattern: Investigation,
  axesRule: AxesRule,
  from: Blob | string,
  onProgress: (progress: MeasuringProgress) => void,
): Promise<Measured> {
  const survey = await surveyOf(document, from, (share) => onProgress({ doing: 'reading', share }))
  const bodies = inOrder(document.bodies).map(([id]) => id)
  const found = assigned(bodies, pattern, proposedBodies(withoutMarks(document), survey))
  const question = (frame: number, why: NonNullable<Measured['question']>['why']): Measured['question'] => ({
    kind: 'question',
    frame,
    why,
  })
  if (!found) return { mutators: [], question: question(document.span.first, 'no-body') }
  const run = new HeadlessFollower(document, from, (share) => onProgress({ doing: 'following', share }))
  try {
    const followed: Mutator[] = []
    for (const [body, proposed] of found) {
      const { mutators, lostAt } = await run.follow(body, proposed)
      followed.push(...mutators)
      if (lostAt !== null) return { mutators: followed, question: question(lostAt, 'lost') }
    }
    const marked = followed.reduce((before, mutator) => edit(before, mutator).document, document)
    const { mutators, open } = settleTrial(marked, pattern, axesRule)
    const [first] = found.values()
    return {
      mutators: [...followed, ...mutators],
      question: open.length > 0 ? question(first.best.frame, 'no-stretch') : null,
    }
  } finally {
    run.close()
  }
}

/** Returns a trial as it was before anything was marked: what moves is looked for again. */
const withoutMarks = (document: Investigation): Investigation => ({
  ...document,
  bodies: Object.fromEntries(
    Object.entries(document.bodies).map(([id, body]) => [id, { ...body, marks: {} }]),
  ),
})

/** Returns the survey of a clip: the one that this browser made before, or a new one. */
async function surveyOf(
  { footage }: Investigation,
  from: Blob | string,
  onProgress: (share: number) => void,
): Promise<Survey> {
  const stored = footage ? await surveys.get(footage.id) : undefined
  if (stored && 'movers' in stored) return stored
  const worker = new Worker(new URL('../footage/survey.worker.ts', import.meta.url), {
    type: 'module',
    name: 'trial survey',
  })
  try {
    const survey = await Comlink.wrap<Surveyor>(worker).survey(from, Comlink.proxy(onProgress))
    if (footage) await surveys.put(footage.id, survey)
    return survey
  } finally {
    worker.terminate()
  }
}

/**
 * Returns which of the things that move is which body: the most convincing one of a single body; of several the ones that are as large as the
 * bodies of the pattern, in the order from left to right in which these are seen first. Null if there are fewer than bodies.
 */
function assigned(
  bodies: readonly string[],
  pattern: Investigation,
  proposed: readonly ProposedBody[],
): Map<string, ProposedBody> | null {
  if (bodies.length === 0 || proposed.length < bodies.length) return null
  if (bodies.length === 1) return new Map([[bodies[0], proposed[0]]])
  const startOf = (id: string) => {
    const { marks } = pattern.bodies[id] ?? { marks: {} }
    const [first] = framesOf({ marks })
    return first === undefined ? 0 : marks[first].x
  }
  const leftToRight = [...bodies].sort((a, b) => startOf(a) - startOf(b))
  const seen = proposed.slice(0, bodies.length).sort((a, b) => a.path[0].x - b.path[0].x)
  const areAlike = leftToRight.every((id, i) => {
    const outline = pattern.bodies[id]?.outline
    const ratio = outline ? outlineArea(outline) / outlineArea(seen[i].outline) : 1
    return ratio < ALIKE && ratio > 1 / ALIKE
  })
  return areAlike ? new Map(leftToRight.map((id, i) => [id, seen[i]])) : null
}

/** Ratio of the areas of a body's outlines in two clips up to which it may be the same body. */
const ALIKE = 3

/** Follows bodies in one clip, one after the other, without a page that shows it. */
class HeadlessFollower {
  private readonly worker = new Worker(new URL('../footage/follow.worker.ts', import.meta.url), {
    type: 'module',
    name: 'trial follow',
  })
  private readonly remote = Comlink.wrap<FollowWorker>(this.worker)

  constructor(
    private readonly document: Investigation,
    private readonly from: Blob | string,
    private readonly onProgress: (share: number) => void,
  ) {}

  /** Returns the edits that outline and mark a body, and the frame in which it was lost; null if it was not. */
  async follow(
    body: string,
    proposed: ProposedBody,
  ): Promise<{ mutators: Mutator[]; lostAt: number | null }> {
    const { document, remote, from } = this
    const { list } = framesInUse(document)
    const { first, last } = framesSeen(proposed)
    const start = frameToFollowFrom(proposed, list)
    if (start === null) return { mutators: [], lostAt: proposed.best.frame }
    const seenAt = placeOfProposed(proposed, start)!
    const grown = await remote.outline(
      from,
      start,
      seenAt,
      stillFrames(document),
      document.orientation,
      Comlink.proxy(() => {}),
    )
    const { outline, by } = outlineToFollow(
      proposed,
      typeof grown === 'string' ? null : grown,
      document.plane !== null,
    )
    const at = { x: seenAt.x + by.x, y: seenAt.y + by.y }
    const marks: Record<string, { x: number; y: number; certainty: number }> = {
      [start]: { ...at, certainty: 1 },
    }
    let lostAt: number | null = null
    const ways = ['on', 'back'] as const
    const total = list.length
    for (const way of ways) {
      const leg = framesAlong(way, list, start)
      if (leg.length === 0) continue
      const clock = clockOf(document)!
      const behind = way === 'back' ? this.behind(marks, start) : []
      const take = (news: FollowNews) => {
        for (const mark of news.marks) marks[mark.frame] = { x: mark.x, y: mark.y, certainty: mark.certainty }
        this.onProgress(Math.min(1, Object.keys(marks).length / total))
        if (!news.question) return
        // At the end of what was seen it need not be there any more.
        if (!isNearEnd(news.question.frame, { first, last }, way)) lostAt ??= news.question.frame
        void remote.answer({ kind: 'stop' })
      }
      await remote.follow(
        from,
        {
          start,
          frames: leg,
          ...clipOfTask(document, clock),
          settings: { persistence: PERSISTENCE, change: 'slowly' },
          patience: patienceOf(PERSISTENCE),
          bodies: [
            {
              id: body,
              at,
              outline,
              before: behind.map((one) => ({ ...one, time: clock.seconds[one.frame] })),
            },
          ],
        },
        Comlink.proxy(take),
      )
    }
    return {
      mutators: [together(edits.changeBody(body, { outline }), edits.setFollowed(body, marks))],
      lostAt,
    }
  }

  /** Returns the first marks after the start, farthest first: the motion backwards goes on from them. */
  private behind(marks: Record<string, { x: number; y: number }>, start: number) {
    return Object.keys(marks)
      .map(Number)
      .filter((frame) => frame > start)
      .sort((a, b) => a - b)
      .slice(0, BEHIND)
      .reverse()
      .map((frame) => ({ frame, x: marks[frame].x, y: marks[frame].y }))
  }

  close(): void {
    this.remote[Comlink.releaseProxy]()
    this.worker.terminate()
  }
}
