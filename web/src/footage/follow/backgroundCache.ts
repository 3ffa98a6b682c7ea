import { type Background, backgroundOf } from '@apokinema/core/following'
import type { Orientation } from '@apokinema/core/investigation'
import type { FrameReader } from '../frameReader.ts'
import { wholeLuma } from '../lumaFrames.ts'

/** Fewest frames that determine the background. */
const FEWEST_FRAMES = 5

/** The background of a clip: learned once for all concurrent requests. */
export class BackgroundCache {
  private known: {
    key: string
    background: Promise<Background | null>
    listeners: Set<(share: number) => void>
  } | null = null

  /**
   * Returns the background of some frames; null if there are too few. A failed request is retried by the next
   * call.
   *
   * @param onProgress is called with the share of the frames that were processed, from 0 to 1
   */
  get(
    clip: FrameReader,
    frames: number[],
    orientation: Orientation,
    onProgress: (share: number) => void,
  ): Promise<Background | null> {
    if (frames.length < FEWEST_FRAMES) return Promise.resolve(null)
    const key = JSON.stringify([frames, orientation])
    if (this.known?.key !== key) {
      const listeners = new Set<(share: number) => void>()
      const learn = async () => {
        const planes = await wholeLuma(clip, frames, orientation, (share) => {
          for (const listener of listeners) listener(share)
        })
        return planes.length < FEWEST_FRAMES ? null : backgroundOf(planes)
      }
      const made = { key, background: learn(), listeners }
      this.known = made
      made.background.catch(() => {
        if (this.known === made) this.known = null
      })
    }
    const { listeners, background } = this.known
    listeners.add(onProgress)
    return background.finally(() => listeners.delete(onProgress))
  }
}
