import { roundOutline } from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import { framesInUse, framesOf, type Investigation, restOver } from '@apokinema/core/investigation'
import { isNearEnd } from '@apokinema/core/proposals'
import { clockOf } from '@apokinema/core/scene'
import * as Comlink from 'comlink'
import { notify } from '../../common/messages.tsx'
import type { Session } from '../../document/session.ts'
import { clipOfTask } from '../../footage/follow/clipOfTask.ts'
import { type FollowedBody, type FollowNews, patienceOf } from '../../footage/follow/followTask.ts'
import { type FollowWay, framesAlong } from '../followWays.ts'
import { goToNextOf, trackDiagnosis } from '../trackDiagnosis.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { useFollowing } from './followStore.ts'
import { defaultWayOf, followedFrom, LANDMARK_RADIUS, landmarksFrom, nameOf } from './followTargets.ts'
import { hiredWorker, openFootage, workerFor } from './followWorker.ts'
import { FoundMarks } from './foundMarks.ts'

const set = useFollowing.setState
/** The current run, or the last one. */
let run: FoundMarks | null = null
/** Whether a person has ended the run. */
let isEnding = false
/** What is done once the run has ended. */
let afterwards: (() => void) | null = null

/** Returns the name of the run's step in the undo history. */
export const runId = (): string => run?.id ?? ''

/** Ends the run and keeps its marks. */
export function endRun(): void {
  isEnding = true
  void hiredWorker()?.stop()
}

/** Ends the run, then calls a function. */
export function endRunThen(act: () => void): void {
  afterwards = act
  endRun()
}

/**
 * Follows from the frame of the outline to the end of the span, to its beginning, or both; the default way if none
 * is stated. While the outline is still being grown, it starts as soon as that is ready. A proposed body is followed by itself.
 *
 * @param step name of the step of the undo history that its marks belong to; a new one if none is stated
 */
export async function follow(session: Session, chosen?: FollowWay, step?: string): Promise<void> {
  const { mode } = useWorkbench.getState()
  const { phase, start, together, landmarks, seen } = useFollowing.getState()
  const investigation = session.document
  if (mode.kind !== 'follow' || !openFootage() || !clockOf(investigation)) return
  const way = chosen ?? defaultWayOf(investigation, mode.body, start)
  if (phase === 'outlining') set({ chosen: way })
  if (phase !== 'ready') return
  const { list } = framesInUse(investigation)
  const ids = followedFrom(investigation, mode.body, start, together && !seen)
  const legs = (way === 'both' ? (['on', 'back'] as const) : [way]).map((leg) => ({
    way: leg,
    frames: framesAlong(leg, list, start),
    // Backwards: the bodies for which that was chosen, and those without marks there.
    ids:
      way === 'both' && leg === 'back'
        ? ids.filter((id) => defaultWayOf(investigation, id, start) === 'both')
        : ids,
  }))
  const frames = legs.flatMap((leg) => leg.frames)
  if (frames.length === 0) {
    notify(way === 'back' ? 'This is the first frame in use.' : 'This is the last frame in use.')
    return
  }
  const marks = new FoundMarks(session, useFollowing.getState().replacesHand, step)
  run = marks
  isEnding = false
  afterwards = null
  set({ phase: 'running', total: frames.length, doneBefore: 0, news: null })
  let isWhole = true
  for (const [i, leg] of legs.entries()) {
    set({ phase: 'running', way: leg.way, isBackNext: i + 1 < legs.length, news: null })
    const fixed = landmarks ? landmarksFrom(session.document, start) : []
    isWhole = (await followLeg(session, marks, leg, fixed)) && isWhole
    if (isEnding || useWorkbench.getState().mode.kind !== 'follow') break
    set(({ doneBefore }) => ({ doneBefore: doneBefore + leg.frames.length }))
  }
  if (isWhole) await reportEnd(session, marks, ids, seen ? markedRange(session, mode.body, frames) : frames)
  if (useWorkbench.getState().mode.kind !== 'follow') return
  workbench.leave()
  const next = afterwards as (() => void) | null
  afterwards = null
  next?.()
}

/** The frames of one direction, and the bodies that are followed along it. */
interface Leg {
  way: 'on' | 'back'
  frames: number[]
  ids: string[]
}

/** Follows in one direction. Returns whether it reached the end. */
async function followLeg(
  session: Session,
  run: FoundMarks,
  { way, frames, ids }: Leg,
  landmarks: { id: string; at: Point }[],
): Promise<boolean> {
  const { start, persistence, change, placedBy, by, seen } = useFollowing.getState()
  const { mode } = useWorkbench.getState()
  const investigation = session.document
  const clock = clockOf(investigation)
  const from = openFootage()
  if (!from || !clock || mode.kind !== 'follow') return false
  const active = mode.body
  const bodies = ids
    .filter((id) => investigation.bodies[id]?.marks[start])
    .map((id): FollowedBody => {
      const { marks, outline } = investigation.bodies[id]
      return {
        id,
        at: { x: marks[start].x, y: marks[start].y },
        outline: id === active && by === 'colour' ? null : outline!,
        before: marksBehind(investigation, id, way, start).map((frame) => ({
          x: marks[frame].x,
          y: marks[frame].y,
          time: clock.seconds[frame],
        })),
      }
    })
  const fixed = landmarks.map(
    ({ id, at }): FollowedBody => ({ id, at, outline: roundOutline(LANDMARK_RADIUS), before: [] }),
  )
  const names = new Map([...bodies, ...fixed].map(({ id }) => [id, nameOf(investigation, id)]))
  let isBeyond = false
  const take = (news: FollowNews) => {
    if (news.question && seen && isNearEnd(news.question.frame, seen, way)) {
      // It need not be there any more: nobody is asked.
      isBeyond = true
      run.take({ ...news, question: null })
      void hiredWorker()?.answer({ kind: 'stop' })
      return
    }
    run.take(news)
    for (const id of news.left.filter((one) => names.has(one))) {
      notify(`${names.get(id)} has left the picture in frame ${news.frame}.`)
      names.delete(id)
    }
  }
  try {
    const undecoded = await workerFor(from).follow(
      from,
      {
        start,
        frames,
        ...clipOfTask(investigation, clock),
        settings: { persistence, change, ...(placedBy !== 'either' && { placedBy }) },
        patience: patienceOf(persistence),
        bodies: [...bodies, ...fixed],
      },
      Comlink.proxy(take),
    )
    const { news } = useFollowing.getState()
    run.keep()
    if (news) workbench.goTo(news.frame)
    if (undecoded !== null)
      notify(
        `The film can’t be decoded beyond frame ${undecoded}, so following broke off. What was marked stays.`,
      )
    return undecoded === null && news !== null && (isBeyond || news.done >= frames.length)
  } catch (error) {
    run.keep()
    notify(`Following broke off: ${(error as Error).message} What was marked stays.`)
    return false
  }
}

/** Marks from which the initial motion of a body is estimated: maximum number, and maximum distance in frames in use. */
const BEHIND = { marks: 4, frames: 8 }

/** Returns the frames of these marks, farthest from the start first. */
function marksBehind(
  { bodies, span }: Investigation,
  id: string,
  way: 'on' | 'back',
  start: number,
): number[] {
  const { marks } = bodies[id]
  const towards = way === 'on' ? -span.every : span.every
  return Array.from({ length: BEHIND.frames }, (_, i) => start + (i + 1) * towards)
    .filter((frame) => frame in marks)
    .slice(0, BEHIND.marks)
    .reverse()
}

/** Returns the frames from the first to the last one that is marked. */
function markedRange(session: Session, body: string, frames: readonly number[]): number[] {
  const marked = framesOf(session.document.bodies[body])
  return frames.filter((frame) => frame >= marked[0] && frame <= marked[marked.length - 1])
}

/**
 * Shows a message at the end of following: by what bodies were placed, and in how many frames one was not found. A button
 * leads to the first of these.
 */
async function reportEnd(
  session: Session,
  { outlined }: FoundMarks,
  ids: string[],
  frames: number[],
): Promise<void> {
  const document = session.document
  const gaps = ids.flatMap((id) => {
    const marks = document.bodies[id]?.marks
    const missing = marks ? frames.filter((frame) => restOver(marks, frame) === null) : []
    return missing.length > 0 ? [{ name: nameOf(document, id), missing }] : []
  })
  const words = [
    ...gaps.map(({ name, missing }) => `${name} was not found in ${missing.length} of them.`),
    ...[...outlined].map(
      ([id, count]) => `${nameOf(document, id)} was placed by its outline in ${count} of them.`,
    ),
  ]
  const jump = await firstJump(document, ids, frames)
  if (jump) words.unshift(`Look at frame ${jump.frame}: ${nameOf(document, jump.id)} jumps there.`)
  const [first] = gaps
  notify(
    [`Followed to the end: ${frames.length} frames.`, ...words].join(' '),
    jump
      ? { label: 'Show it', onClick: () => goToNextOf(jump.id, [jump.frame], -1) }
      : first && { label: 'Show the first', onClick: () => workbench.goTo(first.missing[0]) },
  )
}

/** Returns the first jump among the followed frames. */
async function firstJump(
  document: Investigation,
  ids: string[],
  frames: number[],
): Promise<{ id: string; frame: number } | null> {
  const isFollowed = new Set(frames)
  const jumps = await Promise.all(
    ids.map(async (id) => {
      const found = (await trackDiagnosis(document, id)).jumps
      return found.filter(({ frame }) => isFollowed.has(frame)).map(({ frame }) => ({ id, frame }))
    }),
  )
  return jumps.flat().sort((a, b) => a.frame - b.frame)[0] ?? null
}
