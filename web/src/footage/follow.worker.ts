import {
  type Background,
  backgroundOf,
  ColourFollower,
  type ColourPlane,
  colourReach,
  Follower,
  type FollowQuestion,
  type FollowSettings,
  GuidedFollower,
  grownOutline,
  type Other,
  type Outline,
  OutlineError,
  outlineReach,
  type Plane,
  type PredictionName,
  type Rect,
  searchGroups,
  templateReach,
} from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import type { Orientation } from '@apokinema/core/investigation'
import { outlineProblemText } from '@apokinema/words/outlines'
import * as Comlink from 'comlink'
import { FrameReader } from './frameReader.ts'
import { type LumaFrame, lumaFrames, wholeLuma } from './lumaFrames.ts'

/** A body to be followed from the frame that the task begins in. */
export interface FollowedBody {
  id: string
  at: Point
  /** By whose inside it is followed; null: by the colour at its place. */
  outline: Outline | null
  /** Where it was in frames before, in the direction that it is followed in, the earliest first. */
  before: (Point & { time: number })[]
}

/** What is to be followed, through which frames. */
export interface FollowTask {
  /** The frame in which the bodies are known, and those to go through after it, in this order. */
  start: number
  frames: number[]
  /** Real time of every frame of the clip. */
  seconds: Float64Array
  /** Usual time between two frames of the clip. */
  frameSeconds: number
  orientation: Orientation
  /** Size of the picture as the person sees it. */
  picture: { width: number; height: number }
  settings: FollowSettings
  /** Frames in a row in which a body may not be seen before it is asked for. */
  patience: number
  /** Frames that show what stands still; none where the camera moves. */
  still: number[]
  bodies: FollowedBody[]
}

/** A mark that was found. */
export interface FoundMark extends Point {
  body: string
  frame: number
  certainty: number
  /** Whether it is placed by the body's outline, since the pattern within it turns or changes. */
  byOutline: boolean
}

/** Why it is not gone on by itself. */
export interface Question {
  body: string
  frame: number
  why: FollowQuestion['why']
  /** The first frame in which it was not seen. */
  since: number
  /** Where the body is expected. */
  at: Point
  /** Where something looks like it. */
  places: Point[]
  /** Whether it would be found more easily by the colour at its point. */
  isByColourBetter: boolean
}

/** How a run is going. */
export interface FollowNews {
  marks: FoundMark[]
  frame: number
  done: number
  /** Frames a second. */
  rate: number
  /** Where each body is looked for. */
  reaches: {
    body: string
    at: Point
    radius: number
    by: PredictionName
    certainty: number | null
    /** Whether it is placed by its outline, since the pattern within it turns or changes. */
    byOutline: boolean
  }[]
  question: Question | null
  /** The look by which the first body was found in this frame, each of its pixels so many of the frame's. */
  matched: { plane: Plane; each: number } | null
  /** Bodies that have left the picture. */
  left: string[]
}

export type Answer = { kind: 'show'; at: Point } | { kind: 'look on' } | { kind: 'stop' }

/** Milliseconds between two pieces of news. */
const NEWS = 150
let opened: { from: Blob | string; clip: Promise<FrameReader> } | null = null
/** Fewer frames than this don't tell what stands still. */
const LEAST_STILL = 5
let ground: {
  key: string
  background: Promise<Background | null>
  tells: Set<(share: number) => void>
} | null = null
let answer: ((answer: Answer) => void) | null = null
let goOn: (() => void) | null = null
let isPaused = false
let isStopped = false

function clipOf(from: Blob | string): Promise<FrameReader> {
  if (opened?.from !== from) opened = { from, clip: FrameReader.open(from) }
  return opened.clip
}

/**
 * What stands still in some frames; null where they are too few to tell. It is worked out once: whoever asks meanwhile
 * waits for the same.
 */
function backgroundIn(
  clip: FrameReader,
  frames: number[],
  orientation: Orientation,
  tell: (share: number) => void,
): Promise<Background | null> {
  if (frames.length < LEAST_STILL) return Promise.resolve(null)
  const key = JSON.stringify([frames, orientation])
  if (ground?.key !== key) {
    const tells = new Set<(share: number) => void>()
    const work = async () => {
      const planes = await wholeLuma(clip, frames, orientation, (share) => {
        for (const one of tells) one(share)
      })
      return planes.length < LEAST_STILL ? null : backgroundOf(planes)
    }
    const made = { key, background: work(), tells }
    ground = made
    // What broke off is tried again when it is asked for next.
    made.background.catch(() => {
      if (ground === made) ground = null
    })
  }
  const { tells, background } = ground
  tells.add(tell)
  return background.finally(() => tells.delete(tell))
}

/** A body that is being followed. */
interface OnTheWay {
  id: string
  guided: GuidedFollower
  byColour: boolean
  withChroma: boolean
}

/** What a follower reads of a frame: colours, or brightness with colour differences where the background has them. */
const readFor = (
  frame: LumaFrame,
  { byColour, withChroma }: Pick<OnTheWay, 'byColour' | 'withChroma'>,
  rect: Rect,
): Promise<Plane> => (byColour ? frame.readColours(rect) : frame.read(rect, withChroma))

/** What is found in one frame, or a sentence that says why nothing can be followed there. */
async function lookAt<T>(
  from: Blob | string,
  frame: number,
  orientation: Orientation,
  find: (shown: LumaFrame) => Promise<T>,
): Promise<T | string> {
  for await (const shown of lumaFrames(await clipOf(from), [frame], orientation))
    try {
      return await find(shown)
    } catch (error) {
      if (error instanceof OutlineError) return outlineProblemText(error.problem)
      throw error
    }
  return `Frame ${frame} can’t be decoded.`
}

/** @throws OutlineError if the colour at a point can't be followed */
function expectOwnColour(plane: ColourPlane, at: Point, picture: { width: number; height: number }): void {
  new ColourFollower(plane, at, 0, picture, { persistence: 0.5, change: 'constant' })
}

const worker = {
  /** The outline of what is at a point of a frame, or a sentence that says why there is none. */
  async outline(
    from: Blob | string,
    frame: number,
    at: Point,
    still: number[],
    orientation: Orientation,
    tell: (share: number) => void,
  ): Promise<Outline | string> {
    const background = await backgroundIn(await clipOf(from), still, orientation, tell)
    return lookAt(from, frame, orientation, async (shown) =>
      grownOutline(await shown.read(outlineReach(at), background !== null), at, background),
    )
  },

  /** A sentence that says why the colour at a point of a frame can't be followed; null where it can. */
  async colour(
    from: Blob | string,
    frame: number,
    at: Point,
    orientation: Orientation,
    picture: { width: number; height: number },
  ): Promise<string | null> {
    return lookAt(from, frame, orientation, async (shown) => {
      expectOwnColour(await shown.readColours(colourReach(at)), at, picture)
      return null
    })
  },

  /**
   * Decodes frames and copies the brightness in a rectangle of each, and no more: what the speed of following is
   * held against.
   */
  async bare(from: Blob | string, frames: number[], orientation: Orientation, rect: Rect): Promise<void> {
    const clip = await clipOf(from)
    for await (const frame of lumaFrames(clip, frames, orientation)) await frame.read(rect)
  },

  /**
   * Follows bodies until the end of the frames, or until it is stopped; tells how it is going. Gives the last frame
   * that could be decoded where that was not the last one asked for; null where nothing was missing.
   */
  async follow(
    from: Blob | string,
    task: FollowTask,
    tell: (news: FollowNews) => unknown,
  ): Promise<number | null> {
    isPaused = false
    isStopped = false
    const clip = await clipOf(from)
    const { orientation, seconds } = task
    const background = await backgroundIn(clip, task.still, orientation, () => {})
    let bodies: OnTheWay[] = []
    let marks: FoundMark[] = []
    const left: string[] = []
    let done = 0
    let told = performance.now()
    let isTelling = false
    let began = told
    let counted = 0
    const news = (frame: number, question: Question | null) => {
      const rate = (1000 * counted) / Math.max(1, performance.now() - began)
      const [first] = bodies
      const follower = first?.guided.follower
      const isSeen = first?.guided.lastSearch?.certainty != null
      const matched = isSeen && follower instanceof Follower ? follower.matched() : null
      const reaches = bodies.flatMap(({ id, guided: { lastSearch } }) =>
        lastSearch ? [{ body: id, ...lastSearch }] : [],
      )
      // The page says when it has taken it in: until then what is found is kept back.
      const taken = Promise.resolve(
        tell({ marks, frame, done, rate, reaches, question, matched, left: [...left] }),
      )
      isTelling = true
      marks = []
      told = performance.now()
      return taken.finally(() => {
        isTelling = false
      })
    }
    /** Asks one question after the other. */
    let asking = Promise.resolve()
    const ask = (question: Question) => {
      const given = asking.then(async () => {
        const asked = performance.now()
        void news(question.frame, question)
        const answered = await new Promise<Answer>((resolve) => {
          answer = resolve
          if (isStopped) resolve({ kind: 'stop' })
        })
        began += performance.now() - asked
        return answered
      })
      asking = given.then(() => {})
      return given
    }
    const drop = (body: OnTheWay) => {
      bodies = bodies.filter((other) => other !== body)
    }
    // In one pass with the frame that the bodies are learned in: decoding begins only once.
    const frames = [task.start, ...task.frames]
    const also = {
      colours: task.bodies.some(({ outline }) => outline === null),
      chroma: background !== null,
    }
    let isOver = false
    const last = () => task.frames[done - 1] ?? task.start
    try {
      for await (const frame of lumaFrames(clip, frames, orientation, also)) {
        const time = seconds[frame.index]
        if (frame.index === task.start) {
          bodies = await Promise.all(task.bodies.map((body) => learned(frame, body, task, background)))
          began = performance.now()
          continue
        }
        const search = async (body: OnTheWay, others: Other[]) => {
          const { id, guided } = body
          const outcome = await guided.search((rect) => readFor(frame, body, rect), time, others)
          if (outcome.kind === 'found') {
            const { at, certainty, byOutline } = outcome
            marks.push({ body: id, frame: frame.index, ...at, certainty, byOutline })
          } else if (outcome.kind === 'left') {
            drop(body)
            left.push(id)
          } else if (outcome.kind === 'question') {
            const { kind: _, since, ...question } = outcome
            const { follower } = guided
            const isByLookAlone = follower instanceof Follower && !follower.hasSilhouette
            const given = await ask({
              ...question,
              body: id,
              frame: frame.index,
              since: seconds.indexOf(since),
              isByColourBetter: isByLookAlone && (await hasOwnColour(from, task, id)),
            })
            if (given.kind === 'stop') drop(body)
            else if (given.kind === 'look on') guided.lookOn(time)
            else {
              const plane = await readFor(frame, body, guided.follower.showReach(given.at))
              guided.show(plane, time, given.at)
            }
          }
        }
        const now = bodies
        const expected = now.map(({ guided: { follower } }) => {
          const { at, radius } = follower.reach(time)
          return { ...at, radius, size: follower.place().size }
        })
        await Promise.all(
          searchGroups(expected).map(async (group) => {
            for (const [k, i] of group.entries()) {
              // Those before it are found already; where the rest are is expected.
              const others = group.flatMap((j, m) =>
                m === k || now[j].guided.hiddenFor > 0 || !bodies.includes(now[j])
                  ? []
                  : [m < k ? now[j].guided.follower.place() : expected[j]],
              )
              await search(now[i], others)
            }
          }),
        )
        done++
        counted++
        if (isStopped || bodies.length === 0) {
          isOver = true
          break
        }
        if (performance.now() - told > NEWS && !isTelling) void news(frame.index, null)
        if (isPaused) {
          const paused = performance.now()
          void news(frame.index, null)
          await new Promise<void>((resolve) => {
            goOn = resolve
          })
          began += performance.now() - paused
        }
      }
    } finally {
      // Where the footage can't be read any longer, too: what was found till then is not lost.
      await news(last(), null)
    }
    return isOver || done === task.frames.length ? null : last()
  },

  /** Answers what was asked. */
  answer(given: Answer): void {
    answer?.(given)
    answer = null
  },

  pause(paused: boolean): void {
    isPaused = paused
    if (!paused) goOn?.()
  },

  /** Stops after the frame that is at hand. */
  stop(): void {
    isStopped = true
    answer?.({ kind: 'stop' })
    goOn?.()
  },
}

/** Whether the colour at the point of a body is none of what is around it, in the frame in which the body is known. */
async function hasOwnColour(from: Blob | string, task: FollowTask, id: string): Promise<boolean> {
  const { start, orientation, picture, bodies } = task
  const { at } = bodies.find((body) => body.id === id)!
  return (await worker.colour(from, start, at, orientation, picture)) === null
}

/** A body as it is learned in the frame that it is known in. */
async function learned(
  frame: LumaFrame,
  { id, at, outline, before }: FollowedBody,
  { start, seconds, picture, frameSeconds, settings, patience }: FollowTask,
  background: Background | null,
): Promise<OnTheWay> {
  const byColour = outline === null
  const withChroma = background !== null
  const plane = await readFor(
    frame,
    { byColour, withChroma },
    outline ? templateReach(at, outline) : colourReach(at),
  )
  const time = seconds[start]
  const follower = outline
    ? new Follower(plane, at, time, outline, background, picture, frameSeconds, settings, before)
    : new ColourFollower(plane, at, time, picture, settings, before)
  return {
    id,
    byColour,
    withChroma,
    guided: new GuidedFollower(follower, patience, frameSeconds),
  }
}

export type FollowWorker = typeof worker

Comlink.expose(worker)
