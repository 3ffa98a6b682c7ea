import {
  type Change,
  grownOutline,
  type Outline,
  OutlineError,
  outlineReach,
  overlap,
  roundOutline,
} from '@apokinema/core/following'
import { landmarkAt, type Point } from '@apokinema/core/geometry'
import {
  edits,
  framesInUse,
  framesOf,
  type Investigation,
  inOrder,
  pictureSize,
  restOver,
  together,
} from '@apokinema/core/investigation'
import { clockOf } from '@apokinema/core/motion'
import { spreadAperiodically } from '@apokinema/core/pictures'
import { median } from '@apokinema/core/time'
import * as Comlink from 'comlink'
import { v4 as uuid } from 'uuid'
import { create } from 'zustand'
import { notify } from '../common/messages.tsx'
import type { Session } from '../document/session.ts'
import type { Answer, FollowedBody, FollowNews, FollowWorker, FoundMark } from '../footage/follow.worker.ts'
import { drawnLuma, drawnPicture } from './drawnPicture.ts'
import { type FollowWay, framesAlong, usualWay } from './followWays.ts'
import { addBody, setHandMark } from './marking.ts'
import { activeBody } from './shown.ts'
import { goToNextOf, trackDiagnosis } from './trackDiagnosis.ts'
import { useWorkbench, workbench } from './workbenchStore.ts'

/** Where following stands: nothing clicked yet, an outline being grown, ready to go, going, held, asking. */
type Phase = 'waiting' | 'outlining' | 'ready' | 'running' | 'paused' | 'asking'

interface FollowingState {
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

const START: FollowingState = {
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
export const useFollowing = create<FollowingState>(() => START)

const set = useFollowing.setState

/** Frames that show what stands still: spread over the span, so that a body is in few of them at one place. */
const STILL_FRAMES = 21
/** Frames in a row in which a body may be out of sight before it is asked for, at the least and the most courage. */
const PATIENCE = { early: 0, late: 3 }

const documentOf = (session: Session) => session.store.getState().document

let hired: { from: Blob | string; worker: Worker; remote: Comlink.Remote<FollowWorker> } | null = null

/** The footage that is open; null where none is. */
let from: Blob | string | null = null

/** Says which footage is open; gives back how to let it, and whoever follows in it, go. */
export function followIn(footage: Blob | string): () => void {
  from = footage
  return () => {
    from = null
    dismiss()
    const { persistence, change, placedBy, together, by } = useFollowing.getState()
    set({ ...START, persistence, change, placedBy, together, by })
  }
}

function workerFor(from: Blob | string): Comlink.Remote<FollowWorker> {
  if (hired?.from !== from) {
    dismiss()
    const worker = new Worker(new URL('../footage/follow.worker.ts', import.meta.url), {
      type: 'module',
      name: 'follow',
    })
    hired = { from, worker, remote: Comlink.wrap<FollowWorker>(worker) }
  }
  return hired.remote
}

/** Lets the worker go, with whatever it is at; marks that were found stay. */
function dismiss(): void {
  hired?.worker.terminate()
  hired = null
}

function stillFrames(investigation: Investigation): number[] {
  if (investigation.camera.motion !== 'still') return []
  return spreadAperiodically(framesInUse(investigation).list, STILL_FRAMES)
}

/**
 * Enters following of the active body; where it is marked in this frame and has an outline, it can go at once.
 *
 * @param isRight whether its mark in this frame is to be gone by; else it waits for a click
 */
export function startFollowing(session: Session, isRight = true): void {
  const investigation = documentOf(session)
  if (!investigation.footage || !from) return
  const { frame, body: chosen, mode } = useWorkbench.getState()
  if (mode.kind === 'follow') return
  const body = activeBody(investigation, chosen) ?? addBody(session)
  const { locked, name, marks, outline } = documentOf(session).bodies[body]
  if (locked) {
    notify(`${name} is locked. Unlock it in its menu to have it followed.`)
    return
  }
  const used = framesInUse(investigation)
  if (!used.has(frame)) workbench.goTo(used.list.find((candidate) => candidate >= frame) ?? used.list[0])
  workbench.setBody(body)
  workbench.enter({ kind: 'follow', body })
  const at = useWorkbench.getState().frame
  learnings++
  set({ phase: 'waiting', news: null, share: null, draft: null, chosen: null })
  if (!marks[at] || !isRight) return
  if (outline && useFollowing.getState().by === 'template') set({ phase: 'ready', start: at })
  else void learnBody(session, at, marks[at])
}

/** What a click means while following: which body is meant, or where it is when that was asked. */
export function clickWhileFollowing(session: Session, at: Point, frame: number): void {
  const { phase, news } = useFollowing.getState()
  const { mode } = useWorkbench.getState()
  if (mode.kind !== 'follow' || !from) return
  if (phase === 'asking' && news?.question) {
    const { body, frame: asked } = news.question
    if (frame !== asked) {
      // Another picture is still shown: what is clicked there says nothing of the frame that is asked for.
      workbench.goTo(asked)
      notify(`Frame ${asked} is asked for. It is shown now: click there.`)
      return
    }
    const document = documentOf(session)
    session.edit(
      `show ${nameOf(document, body)} in frame ${asked}`,
      document.bodies[body] ? edits.setMark(body, asked, at) : edits.markLandmark(body, asked, at),
      run,
    )
    reply({ kind: 'show', at })
  } else if (phase === 'waiting' || phase === 'ready' || phase === 'outlining') {
    if (!setHandMark(session, mode.body, frame, at)) return
    void learnBody(session, frame, documentOf(session).bodies[mode.body].marks[frame])
  }
}

/** Chooses by what the active body is followed; what has been clicked already is looked at anew. */
export function followBy(session: Session, by: FollowingState['by']): void {
  const { mode } = useWorkbench.getState()
  const { phase, start } = useFollowing.getState()
  set({ by })
  if (mode.kind !== 'follow' || phase !== 'ready') return
  const { outline, marks } = documentOf(session).bodies[mode.body]
  if (marks[start] && !(by === 'template' && outline)) void learnBody(session, start, marks[start])
}

/** Counts what is to be learned: what comes of an earlier click is let go. */
let learnings = 0

/**
 * Finds out by what the body that was clicked can be followed: its outline is grown, or its colour looked at. The first
 * outline of a span has to wait until all of what stands still is known, so that the same click always gives the same
 * marks; meanwhile an outline by contrast alone shows what is meant.
 */
async function learnBody(session: Session, frame: number, at: Point): Promise<void> {
  const { mode } = useWorkbench.getState()
  if (mode.kind !== 'follow' || !from) return
  const investigation = documentOf(session)
  const { orientation } = investigation
  const { by } = useFollowing.getState()
  const learning = ++learnings
  const draft = by === 'template' ? outlineByContrast(investigation, frame, at) : null
  set({ phase: 'outlining', start: frame, share: null, draft, chosen: null })
  const tellShare = (share: number) => set({ share })
  const remote = workerFor(from)
  // An outline, a reason why it can't be followed, or nothing to say.
  const learned: Outline | string | null = await (by === 'template'
    ? remote.outline(from, frame, at, stillFrames(investigation), orientation, Comlink.proxy(tellShare))
    : remote.colour(from, frame, at, orientation, pictureSize(investigation))
  ).catch((error: Error) => error.message)
  const now = useWorkbench.getState().mode
  if (now.kind !== 'follow' || now.body !== mode.body || learning !== learnings) return
  const { chosen } = useFollowing.getState()
  set({ share: null, draft: null, chosen: null })
  if (typeof learned === 'string') {
    set({ phase: 'waiting' })
    notify(learned)
    return
  }
  if (learned) session.edit('outline the body', edits.changeBody(mode.body, { outline: learned }))
  set({ phase: 'ready' })
  if (chosen) await follow(session, chosen)
}

/** An outline by contrast alone of what the stage shows; null where nothing stands out, or another frame is shown. */
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

/** Name of the run that goes on: its marks are undone in one step. */
let run = ''
/** Whether a person has ended the run. */
let isEnding = false
/** The frame from which the active body is to be followed by its colour once the run has ended; null for none. */
let byColourFrom: number | null = null

/** The bodies that are followed from a frame: the active one, and others marked there that have an outline. */
export function followedFrom(
  investigation: Investigation,
  body: string,
  frame: number,
  together: boolean,
): string[] {
  const { by } = useFollowing.getState()
  const ready = (id: string) => {
    const { marks, outline, locked } = investigation.bodies[id]
    return (outline !== null || (id === body && by === 'colour')) && !locked && frame in marks
  }
  return Object.keys(investigation.bodies).filter((id) => ready(id) && (id === body || together))
}

/** Pixels around a landmark by which it is followed. */
const LANDMARK_RADIUS = 12

/** Landmarks that can be followed from a frame, where the camera moves, and where they are in it. */
export function landmarksFrom(investigation: Investigation, frame: number): { id: string; at: Point }[] {
  const { camera } = investigation
  const seconds = clockOf(investigation)?.seconds
  if (camera.motion === 'still' || !seconds) return []
  return inOrder(camera.landmarks).flatMap(([id, landmark]) => {
    const at = landmarkAt({ id, ...landmark }, frame, seconds)
    return at ? [{ id, at: { x: at.x, y: at.y } }] : []
  })
}

/** Returns the way that following goes from the frame of the outline unless a person chooses another. */
export function usualWayOf(investigation: Investigation, body: string, start: number): FollowWay {
  return usualWay(investigation.bodies[body], framesInUse(investigation).list, start)
}

/**
 * Goes: follows from the frame of the outline to the end of the span, to its beginning, or both; the usual way if none
 * is told. Where the outline is still being grown it goes as soon as that is there.
 */
export async function follow(session: Session, chosen?: FollowWay): Promise<void> {
  const { mode } = useWorkbench.getState()
  const { phase, start, together, landmarks } = useFollowing.getState()
  const investigation = documentOf(session)
  if (mode.kind !== 'follow' || !from || !clockOf(investigation)) return
  const way = chosen ?? usualWayOf(investigation, mode.body, start)
  if (phase === 'outlining') set({ chosen: way })
  if (phase !== 'ready') return
  const { list } = framesInUse(investigation)
  const ids = followedFrom(investigation, mode.body, start, together)
  const legs = (way === 'both' ? (['on', 'back'] as const) : [way]).map((leg) => ({
    way: leg,
    frames: framesAlong(leg, list, start),
    // Back goes who was chosen to, and who has no marks there yet.
    ids:
      way === 'both' && leg === 'back'
        ? ids.filter((id) => usualWayOf(investigation, id, start) === 'both')
        : ids,
  }))
  const frames = legs.flatMap((leg) => leg.frames)
  if (frames.length === 0) {
    notify(way === 'back' ? 'This is the first frame in use.' : 'This is the last frame in use.')
    return
  }
  run = uuid()
  found = []
  outlined = new Map()
  isEnding = false
  byColourFrom = null
  set({ phase: 'running', total: frames.length, doneBefore: 0, news: null })
  let isWhole = true
  for (const [i, leg] of legs.entries()) {
    set({ phase: 'running', way: leg.way, isBackNext: i + 1 < legs.length, news: null })
    const fixed = landmarks ? landmarksFrom(documentOf(session), start) : []
    isWhole = (await followLeg(session, leg, fixed)) && isWhole
    if (isEnding || useWorkbench.getState().mode.kind !== 'follow') break
    set(({ doneBefore }) => ({ doneBefore: doneBefore + leg.frames.length }))
  }
  if (isWhole) await tellEnd(session, ids, frames)
  if (useWorkbench.getState().mode.kind !== 'follow') return
  workbench.leave()
  if (byColourFrom === null) return
  workbench.goTo(byColourFrom)
  byColourFrom = null
  startFollowing(session)
}

/** Frames back to a person's own mark from which colour goes on: a look that is about to be lost slips first. */
const RECENT = 25

/**
 * Ends the run, and has the active body followed by the colour at its point: from the last mark by hand before the frame in
 * which it is asked for, if that is not long ago, and otherwise from the last mark.
 */
export function goOnByColour(session: Session): void {
  const { news, way } = useFollowing.getState()
  const { mode } = useWorkbench.getState()
  if (mode.kind !== 'follow' || !news?.question) return
  const { frame } = news.question
  const { marks } = documentOf(session).bodies[mode.body]
  const marked = framesOf({ marks }).filter((one) => (way === 'on' ? one < frame : one > frame))
  const nearest = way === 'on' ? marked.reverse() : marked
  const own = nearest.find((one) => marks[one].by === 'hand')
  const isRecent = own !== undefined && Math.abs(frame - own) <= RECENT
  byColourFrom = (isRecent ? own : nearest[0]) ?? null
  set({ by: 'colour' })
  endFollowing()
}

/** Frames of one way that are gone through, and the bodies that are followed along it. */
interface Leg {
  way: 'on' | 'back'
  frames: number[]
  ids: string[]
}

/** Follows along one way. Returns whether it came to its end. */
async function followLeg(
  session: Session,
  { way, frames, ids }: Leg,
  landmarks: { id: string; at: Point }[],
): Promise<boolean> {
  const { start, persistence, change, placedBy, replacesHand, by } = useFollowing.getState()
  const { mode } = useWorkbench.getState()
  const investigation = documentOf(session)
  const clock = clockOf(investigation)
  if (!from || !clock || mode.kind !== 'follow') return false
  const active = mode.body
  const steps = Array.from(
    { length: clock.seconds.length - 1 },
    (_, i) => clock.seconds[i + 1] - clock.seconds[i],
  )
  const frameSeconds = median(steps)
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
  const take = (news: FollowNews) => {
    takeNews(session, news, replacesHand)
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
        seconds: clock.seconds,
        frameSeconds,
        orientation: investigation.orientation,
        picture: pictureSize(investigation),
        settings: { persistence, change, ...(placedBy !== 'either' && { placedBy }) },
        patience: Math.ceil(PATIENCE.early + (PATIENCE.late - PATIENCE.early) * persistence),
        still: stillFrames(investigation),
        bodies: [...bodies, ...fixed],
      },
      Comlink.proxy(take),
    )
    const { news } = useFollowing.getState()
    keepFound(session, replacesHand)
    if (news) workbench.goTo(news.frame)
    if (undecoded !== null)
      notify(
        `The film can’t be decoded beyond frame ${undecoded}, so following broke off. What was marked stays.`,
      )
    return undecoded === null && news !== null && news.done >= frames.length
  } catch (error) {
    keepFound(session, replacesHand)
    notify(`Following broke off: ${(error as Error).message} What was marked stays.`)
    return false
  }
}

/** Marks that tell how a body moves at the start of a way: at most so many, of at most so many frames in use behind it. */
const BEHIND = { marks: 4, frames: 8 }

/** Returns the frames of these marks, the farthest from the start first. */
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

/**
 * Says that following has come to its end, what told the places, and in how many frames a body was not found: the first
 * is one click away.
 */
async function tellEnd(session: Session, ids: string[], frames: number[]): Promise<void> {
  const document = documentOf(session)
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

/** The first jump among frames that were followed. */
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

/** Name of a body or landmark that is followed. */
export function nameOf({ bodies, camera }: Investigation, id: string): string {
  return bodies[id]?.name ?? camera.landmarks[id]?.name ?? ''
}

/** Marks that were found but are not in the document yet, and when that was changed last and for how long. */
let found: FoundMark[] = []
/** How many marks of each body in this run are placed by its outline. */
let outlined = new Map<string, number>()
let kept = { at: 0, took: 0 }
/** The page takes so many times as long for other things as for taking marks in, but no longer than a second. */
const SPARED = { times: 8, most: 900 }

/** Takes in what was found; where that takes long, together with what comes next. */
function takeNews(session: Session, news: FollowNews, replacesHand: boolean): void {
  found.push(...news.marks)
  const { phase } = useFollowing.getState()
  set({
    news,
    ...(news.question
      ? { phase: 'asking' as const }
      : phase === 'asking'
        ? { phase: 'running' as const }
        : {}),
  })
  const pause = Math.min(SPARED.most, SPARED.times * kept.took)
  if (!news.question && performance.now() - kept.at < pause) return
  keepFound(session, replacesHand)
  workbench.goTo(news.frame)
}

/** Puts the marks that were found into the document. */
function keepFound(session: Session, replacesHand: boolean): void {
  const began = performance.now()
  const byBody = new Map<string, Record<string, Point & { certainty: number }>>()
  for (const { body, frame, x, y, certainty, byOutline } of found) {
    if (byOutline) outlined.set(body, (outlined.get(body) ?? 0) + 1)
    const marks = byBody.get(body) ?? {}
    marks[frame] = { x, y, certainty }
    byBody.set(body, marks)
  }
  found = []
  if (byBody.size > 0)
    session.edit(
      byBody.size === 1 ? `follow ${nameOf(documentOf(session), [...byBody.keys()][0])}` : 'follow bodies',
      together(
        ...[...byBody].map(([id, marks]) =>
          documentOf(session).bodies[id]
            ? edits.setFollowed(id, marks, replacesHand)
            : edits.followLandmark(id, marks, replacesHand),
        ),
      ),
      run,
    )
  const now = performance.now()
  kept = { at: now, took: now - began }
}

/** Answers the question that following has asked. */
export function reply(answer: Answer): void {
  set({ phase: 'running' })
  void hired?.remote.answer(answer)
}

/** Holds the run, or lets it go on. */
export function pauseFollowing(paused: boolean): void {
  set({ phase: paused ? 'paused' : 'running' })
  void hired?.remote.pause(paused)
}

/** Ends the run, keeping what was found; before it has begun, leaves the mode. */
export function endFollowing(): void {
  const { phase } = useFollowing.getState()
  if (phase === 'running' || phase === 'paused' || phase === 'asking') {
    isEnding = true
    void hired?.remote.stop()
  } else workbench.leave()
}

/** Changes how is followed. */
export function setFollowing(
  change: Partial<
    Pick<FollowingState, 'persistence' | 'change' | 'placedBy' | 'together' | 'replacesHand' | 'landmarks'>
  >,
): void {
  set(change)
}
