import { outlineArea, roundOutline, sizeOf } from '@apokinema/core/following'
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
import { spreadAperiodically } from '@apokinema/core/pictures'
import {
  convincingOutline,
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
import { footageSource } from '../footage/footageSource.ts'
import type { Survey, Surveyor } from '../footage/survey.worker.ts'
import { withRegistration } from '../footage/withRegistration.ts'
import { framesAlong } from '../workbench/followWays.ts'
import type { Pattern } from './addTrials.ts'
import type { MeasuringProgress } from './measuringStore.ts'

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
 * Measures a trial by itself: finds the bodies by their look in the pattern's clip or by what moves, follows each body both ways from the frame in which it is seen best, and places the
 * stretches where the motion has the pattern's laws. Whatever is uncertain becomes a question; marks that were found until then stay.
 *
 * @param document of the trial
 * @param from file or address of its clip
 */
export async function measureTrial(
  document: Investigation,
  pattern: Pattern,
  axesRule: AxesRule,
  from: Blob | string,
  onProgress: (progress: MeasuringProgress) => void,
): Promise<Measured> {
  const survey = await surveyOf(document, from, (share) => onProgress({ doing: 'reading', share }))
  const bodies = inOrder(document.bodies).map(([id]) => id)
  const proposed = proposedBodies(withoutMarks(document), survey)
  const moving = assignments(bodies, pattern.document, proposed).map((one) => async () => one)
  const known = () => knownBodies(bodies, document, pattern, from)
  // If one thing alone moves, it is followed without searching whole pictures for the look of the body.
  const candidates = proposed.length === 1 ? [...moving, known] : [known, ...moving]
  const question = (frame: number, why: NonNullable<Measured['question']>['why']): Measured['question'] => ({
    kind: 'question',
    frame,
    why,
  })
  const run = new HeadlessFollower(document, from, (share) => onProgress({ doing: 'following', share }))
  try {
    const best = await run.followBest(candidates)
    if (!best) return { mutators: [], question: question(document.span.first, 'no-body') }
    const { mutators: followed, lostAt, first } = best
    if (lostAt !== null) return { mutators: followed, question: question(lostAt, 'lost') }
    const marked = followed.reduce((before, mutator) => edit(before, mutator).document, document)
    const { mutators, open } = settleTrial(marked, pattern.document, axesRule)
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

/** Frames of the pattern's clip from which the look of a body is taken, and of the trial's clip in which it is searched. */
const LOOKS = 2
const SEARCHED = 6
/** Radius of a body without an outline, in pixels. */
const USUAL_RADIUS = 8

/** Returns the bodies as they are found by their look in the pattern's clip; null unless all of them are. */
async function knownBodies(
  bodies: readonly string[],
  document: Investigation,
  { id, document: pattern }: Pattern,
  from: Blob | string,
): Promise<Assignment | null> {
  const { footage } = pattern
  if (!footage || bodies.length === 0) return null
  const outlineOf = (body: string) => pattern.bodies[body]?.outline ?? null
  const marked = bodies.map((body) => {
    const { marks } = pattern.bodies[body] ?? { marks: {} }
    const outline = outlineOf(body)
    return {
      marks: spreadAperiodically(framesOf({ marks }), LOOKS).map((frame) => ({
        frame,
        x: marks[frame].x,
        y: marks[frame].y,
      })),
      radius: outline ? sizeOf(outline) : USUAL_RADIUS,
    }
  })
  if (marked.some(({ marks }) => marks.length === 0)) return null
  const clip = await footageSource(id, footage.id)
  const frames = spreadAperiodically(framesInUse(document).list, SEARCHED)
  const found = await withRegistration((registration) =>
    registration.findKnown(clip, marked, from, frames, document.orientation),
  )
  if (found.some((sightings) => sightings.length === 0)) return null
  return new Map(
    found.map((sightings, i): [string, FoundBody] => {
      const best = sightings.reduce((one, other) => (other.score > one.score ? other : one))
      const outline = outlineOf(bodies[i]) ?? roundOutline(USUAL_RADIUS)
      return [bodies[i], { path: sightings, best, outline, isKnown: true }]
    }),
  )
}

/** Something that may be a body. A known one was found by its look, at the very point that is marked in the pattern. */
type FoundBody = ProposedBody & { isKnown: boolean }

/** Which of the things that were found is which body. */
type Assignment = Map<string, FoundBody>

/** Most things that are tried as the only body of a trial. */
const TRIED = 3

/**
 * Returns which of the things that move may be which body, the most convincing first: for a single body each of the first things, those as
 * large as in the pattern before the others; of several the ones that are as large as the bodies of the pattern, in the order from left to
 * right in which these are seen first. Empty if there are fewer than bodies.
 */
function assignments(
  bodies: readonly string[],
  pattern: Investigation,
  proposed: readonly ProposedBody[],
): Assignment[] {
  if (bodies.length === 0 || proposed.length < bodies.length) return []
  const isAlike = (id: string, { outline }: ProposedBody) => {
    const known = pattern.bodies[id]?.outline
    const ratio = known ? outlineArea(known) / outlineArea(outline) : 1
    return ratio < ALIKE && ratio > 1 / ALIKE
  }
  if (bodies.length === 1) {
    const [id] = bodies
    const tried = proposed.slice(0, TRIED)
    const sorted = [...tried.filter((one) => isAlike(id, one)), ...tried.filter((one) => !isAlike(id, one))]
    return sorted.map((one) => new Map([[id, { ...one, isKnown: false }]]))
  }
  const startOf = (id: string) => {
    const { marks } = pattern.bodies[id] ?? { marks: {} }
    const [first] = framesOf({ marks })
    return first === undefined ? 0 : marks[first].x
  }
  const leftToRight = [...bodies].sort((a, b) => startOf(a) - startOf(b))
  const seen = proposed.slice(0, bodies.length).sort((a, b) => a.path[0].x - b.path[0].x)
  const areAlike = leftToRight.every((id, i) => isAlike(id, seen[i]))
  return areAlike ? [new Map(leftToRight.map((id, i) => [id, { ...seen[i], isKnown: false }]))] : []
}

/** Ratio of the areas of a body's outlines in two clips up to which it may be the same body. */
const ALIKE = 3

/** What came of following bodies. */
interface Followed {
  /** Edits that outline and mark them. */
  mutators: Mutator[]
  /** Number of marks. */
  marked: number
  /** Frame in which a body was lost; null if none was. */
  lostAt: number | null
}

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

  /**
   * Follows the bodies as they are assigned, in the order in which assignments are given, until none is lost. Returns what came of the one
   * with the most marks, and the first of its things; null if there is no assignment.
   */
  async followBest(
    candidates: readonly (() => Promise<Assignment | null>)[],
  ): Promise<(Followed & { first: ProposedBody }) | null> {
    let best: (Followed & { first: ProposedBody }) | null = null
    for (const candidate of candidates) {
      const found = await candidate()
      if (!found) continue
      const [first] = found.values()
      const followed = await this.followAll(found)
      if (!best || followed.lostAt === null || followed.marked > best.marked) best = { ...followed, first }
      if (followed.lostAt === null) break
    }
    return best
  }

  /** Follows one body after the other, up to the first that is lost. */
  private async followAll(found: Assignment): Promise<Followed> {
    const all: Followed = { mutators: [], marked: 0, lostAt: null }
    for (const [body, proposed] of found) {
      const { mutators, marked, lostAt } = await this.follow(body, proposed)
      all.mutators.push(...mutators)
      all.marked += marked
      all.lostAt = lostAt
      if (lostAt !== null) break
    }
    return all
  }

  private async follow(body: string, proposed: FoundBody): Promise<Followed> {
    const { document, remote, from } = this
    const { list } = framesInUse(document)
    const { first, last } = framesSeen(proposed)
    const start = frameToFollowFrom(proposed, list)
    if (start === null) return { mutators: [], marked: 0, lostAt: proposed.best.frame }
    const seenAt = placeOfProposed(proposed, start)!
    const grown = await remote.outline(
      from,
      start,
      seenAt,
      stillFrames(document),
      document.orientation,
      Comlink.proxy(() => {}),
    )
    const wanted = typeof grown === 'string' ? null : grown
    const { outline, by } = proposed.isKnown
      ? { outline: convincingOutline(proposed, wanted), by: { x: 0, y: 0 } }
      : outlineToFollow(proposed, wanted, document.plane !== null)
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
      marked: Object.keys(marks).length,
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
