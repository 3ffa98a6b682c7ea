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

/** Where a camera looks, in pixels of the stage, and how many of its own pixels each of those has. */
interface CameraPose {
  zoom: number
  middle: Vector
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
  /** Picture position of a point of the scene's plane, where the camera sees it at an angle. */
  project?: (point: Vector) => Vector
  /** Something rectangular in that plane: its size in metres, its corners in the picture from the lower left on. */
  plane?: { width: number; height: number; corners: [Vector, Vector, Vector, Vector] }
  /** Size of what stands still, where the camera sees only a part of it; otherwise it is the picture's. */
  stage?: { width: number; height: number }
  /** What a moving camera sees at an instant: which point of the stage is in the middle, and how large. */
  camera?: (time: number) => CameraPose
  /** Fixed points of the stage that can be seen all the time. */
  landmarks?: { name: string; at: Vector }[]
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

/** Returns where a point of the stage is in the picture of a camera at an instant. */
export function throughCamera({ camera, width, height }: Sample, time: number, at: Vector): Vector {
  if (!camera) return at
  const { zoom, middle } = camera(time)
  return { x: width / 2 + zoom * (at.x - middle.x), y: height / 2 + zoom * (at.y - middle.y) }
}

/** Picture position of a scene point, for a camera that stands still. */
export function inPicture({ origin, pixelsPerMetre }: View, { x, y }: Vector): Vector {
  return { x: origin.x + pixelsPerMetre * x, y: origin.y - pixelsPerMetre * y }
}
