import { type Background, backgroundOf, gridOf } from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import type { Orientation } from '@apokinema/core/investigation'
import {
  type BodySighting,
  type Registration,
  registerViews,
  sightingsOfKnown,
} from '@apokinema/core/registration'
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

/** A body as it is marked in some frames of a clip. */
export interface MarkedBody {
  marks: readonly ({ frame: number } & Point)[]
  /** In pixels. */
  radius: number
}

/** Returns the brightness of some frames as numbers, in order. */
async function gridsIn(reader: FrameReader, frames: readonly number[], orientation: Orientation) {
  const sorted = [...frames].sort((a, b) => a - b)
  const planes = await wholeLuma(reader, sorted, orientation, () => {})
  // Frames that can't be decoded are missing: then it is not known which is which.
  return planes.length === sorted.length
    ? sorted.map((frame, i) => ({ frame, picture: gridOf(planes[i]) }))
    : []
}

const worker = {
  /**
   * Returns where bodies that are marked in one clip are seen in frames of another one; see `sightingsOfKnown`.
   *
   * @param frames of the other clip
   */
  async findKnown(
    from: Blob | string,
    bodies: readonly MarkedBody[],
    to: Blob | string,
    frames: readonly number[],
    orientation: Orientation,
  ): Promise<BodySighting[][]> {
    const [known, other] = [await FrameReader.open(from), await FrameReader.open(to)]
    const marked = new Set(bodies.flatMap(({ marks }) => marks.map(({ frame }) => frame)))
    const pictures = new Map(
      (await gridsIn(known, [...marked], orientation)).map(({ frame, picture }) => [frame, picture]),
    )
    const searched = await gridsIn(other, frames, orientation)
    return bodies.map(({ marks, radius }) => {
      const templates = marks.flatMap(({ frame, x, y }) => {
        const picture = pictures.get(frame)
        return picture ? [{ picture, at: { x, y } }] : []
      })
      return sightingsOfKnown(templates, searched, radius)
    })
  },

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
