import {
  ColourFollower,
  colourReach,
  grownOutline,
  type Outline,
  OutlineError,
  outlineReach,
  type Rect,
} from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import type { Orientation } from '@apokinema/core/investigation'
import { outlineProblemText } from '@apokinema/words/outlines'
import * as Comlink from 'comlink'
import { BackgroundCache } from './follow/backgroundCache.ts'
import { FollowRun } from './follow/followRun.ts'
import type { Answer, FollowNews, FollowTask } from './follow/followTask.ts'
import { FrameReader } from './frameReader.ts'
import { type LumaFrame, lumaFrames } from './lumaFrames.ts'

let opened: { from: Blob | string; clip: Promise<FrameReader> } | null = null
const backgrounds = new BackgroundCache()
let run: FollowRun | null = null

function clipOf(from: Blob | string): Promise<FrameReader> {
  if (opened?.from !== from) opened = { from, clip: FrameReader.open(from) }
  return opened.clip
}

/** Returns what is found in one frame, or a message if nothing can be followed there. */
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

const worker = {
  /** Returns the outline of the body at a point of a frame, or a message if there is none. */
  async outline(
    from: Blob | string,
    frame: number,
    at: Point,
    still: number[],
    orientation: Orientation,
    onProgress: (share: number) => void,
  ): Promise<Outline | string> {
    const background = await backgrounds.get(await clipOf(from), still, orientation, onProgress)
    return lookAt(from, frame, orientation, async (shown) =>
      grownOutline(await shown.read(outlineReach(at), background !== null), at, background),
    )
  },

  /** Returns a message if the colour at a point of a frame can't be followed, otherwise null. */
  async colour(
    from: Blob | string,
    frame: number,
    at: Point,
    orientation: Orientation,
    picture: { width: number; height: number },
  ): Promise<string | null> {
    return lookAt(from, frame, orientation, async (shown) => {
      const plane = await shown.readColours(colourReach(at))
      // Refuses a colour that also surrounds the point.
      new ColourFollower(plane, at, 0, picture, { persistence: 0.5, change: 'constant' })
      return null
    })
  },

  /**
   * Decodes frames and copies the brightness in a rectangle of each, and no more: the baseline with which the speed of
   * following is compared.
   */
  async bare(from: Blob | string, frames: number[], orientation: Orientation, rect: Rect): Promise<void> {
    const clip = await clipOf(from)
    for await (const frame of lumaFrames(clip, frames, orientation)) await frame.read(rect)
  },

  /**
   * Follows bodies until the end of the frames, or until it is stopped. Returns the last frame that could be decoded if that
   * was not the last one asked for, otherwise null.
   */
  async follow(
    from: Blob | string,
    task: FollowTask,
    send: (news: FollowNews) => unknown,
  ): Promise<number | null> {
    const { start, orientation, picture, still, bodies } = task
    const hasOwnColour = async (id: string) => {
      const { at } = bodies.find((body) => body.id === id)!
      return (await worker.colour(from, start, at, orientation, picture)) === null
    }
    // From now on it can be stopped, also while the background is still being learned.
    const made = new FollowRun(task, send, hasOwnColour)
    run = made
    const clip = await clipOf(from)
    return made.run(clip, await backgrounds.get(clip, still, orientation, () => {}))
  },

  /** Answers the current question. */
  answer: (answer: Answer): void => run?.answer(answer),

  pause: (isPaused: boolean): void => run?.pause(isPaused),

  /** Stops after the current frame. */
  stop: (): void => run?.stop(),
}

export type FollowWorker = typeof worker

Comlink.expose(worker)
