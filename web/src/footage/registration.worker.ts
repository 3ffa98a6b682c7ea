import { type Background, backgroundOf } from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import type { Orientation } from '@apokinema/core/investigation'
import { type Registration, registerViews } from '@apokinema/core/registration'
import { frameCount } from '@apokinema/core/time'
import * as Comlink from 'comlink'
import { FrameReader } from './frameReader.ts'
import { wholeLuma } from './lumaFrames.ts'

/** Frames from which the background is learned, spread over the clip. */
const SAMPLES = 15

/** The background of the clip that others are compared with. */
let known: { from: Blob | string; background: Promise<Background> } | null = null

async function backgroundIn(from: Blob | string, orientation: Orientation): Promise<Background> {
  const reader = await FrameReader.open(from)
  const last = frameCount(reader.facts.ticks) - 1
  const frames = new Set(Array.from({ length: SAMPLES }, (_, i) => Math.round((last * i) / (SAMPLES - 1))))
  const planes = await wholeLuma(reader, [...frames], orientation, () => {})
  return backgroundOf(planes)
}

const worker = {
  /**
   * Returns how the camera moved from one clip to another.
   *
   * @param anchors points of the first clip that must have moved as the rest did
   */
  async register(
    from: Blob | string,
    to: Blob | string,
    orientation: Orientation,
    anchors: Point[],
  ): Promise<Registration> {
    if (known?.from !== from) known = { from, background: backgroundIn(from, orientation) }
    const before = known
    before.background.catch(() => {
      if (known === before) known = null
    })
    return registerViews(await before.background, await backgroundIn(to, orientation), anchors)
  },
}

export type RegistrationWorker = typeof worker

Comlink.expose(worker)
