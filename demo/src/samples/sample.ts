import type { SKRSContext2D } from '@napi-rs/canvas'

export interface Vector {
  x: number
  y: number
}

/** Where something is at an instant, in metres of the scene (y up), with its turn in radians. */
export interface Pose extends Vector {
  turn: number
  /** What the body is doing, for the truth file. */
  phase: string
}

/** How the scene's plane of motion lies in the picture: level, square on. */
export interface View {
  pixelsPerMetre: number
  /** Picture position of the scene's origin, in pixels. */
  origin: Vector
}

/** A piece of sample footage: what stands still, what moves, and what is true. One file each in this folder. */
export interface Sample {
  id: string
  title: string
  /** What it teaches, in a sentence for people. */
  about: string
  width: number
  height: number
  /** Frames per second, and how many frames. */
  rate: number
  /** Frames per second of the real world, where it is slow motion. */
  captureRate?: number
  frames: number
  /** Share of the frame's time for which the shutter is open. */
  shutter: number
  /** Standard deviation of the sensor's noise, of 255. */
  noise: number
  /** Constant rate factor of the encoder, where the usual one would make too large a file. */
  quality?: number
  /** Instants that one exposure is made of; fewer do for slow motion. */
  exposures?: number
  view: View
  /** Frame that makes the best still picture. */
  poster: number
  /** What the truth file says beside the positions, in SI. */
  constants: Record<string, number>
  /** A length in the picture that can be used as a reference: its ends in pixels, its length in metres. */
  reference: { name: string; ends: [Vector, Vector]; length: number }
  /** Bodies by name. */
  bodies: { name: string; pose: (time: number) => Pose }[]
  /** Paints what never moves. */
  still: (context: SKRSContext2D) => void
  /** Paints what moves, as it is at an instant. */
  moving: (context: SKRSContext2D, time: number) => void
}

/** Picture position of a scene point. */
export function inPicture({ origin, pixelsPerMetre }: View, { x, y }: Vector): Vector {
  return { x: origin.x + pixelsPerMetre * x, y: origin.y - pixelsPerMetre * y }
}
