import type { FrameTicks, TimeBase } from '../../time/index.ts'

/** A video as recorded. What stands here are facts of the file, found when it was opened. */
export interface Footage {
  id: string
  name: string
  /** Bytes. */
  size: number
  /** Of the upright picture, in pixels. */
  width: number
  height: number
  timeBase: TimeBase
  ticks: FrameTicks
  /** Clockwise turn that the file asks for, in degrees; the sensor's rows lie across it. */
  rotation: 0 | 90 | 180 | 270
  /** Capture rate that the camera noted in the file, frames per second; null where it noted none. */
  notedCaptureRate: number | null
  /** Whether what is shown was made on the server from a file that browsers can't decode. */
  converted: boolean
}

/** How a person wants the upright picture turned on: first mirrored left to right, then turned clockwise. */
export interface Orientation {
  mirrored: boolean
  quarterTurns: 0 | 1 | 2 | 3
}
