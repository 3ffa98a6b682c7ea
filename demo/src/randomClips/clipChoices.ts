import { type Chooser, MOTIONS, type MotionKind } from './chooser.ts'

const WALLS = ['plain', 'body brightness', 'quay', 'crates'] as const
const EXTRAS = ['none', 'post', 'look-alike', 'shadow', 'flicker'] as const
/** What else moves where that is stated. */
export type Company = 'walker' | 'flag'

/** What somebody who films by hand does with the camera, to keep the body in view. */
type CameraWork = 'still' | 'pans' | 'zooms out'

/** How a clip is compressed. */
export type Encoder = { codec: 'h264'; crf: number; keyEvery: number } | { codec: 'mjpeg'; quality: number }

/** What is drawn at random where it is not stated. */
export interface ClipChoices {
  motion: MotionKind
  wall: (typeof WALLS)[number]
  extra: (typeof EXTRAS)[number] | Company
  /** Whether there is a body at all. */
  body: boolean
  /** Seconds for which the body rests before it moves. */
  rest: number
  /** Whether the body that has left the picture comes back the same way. */
  returns: boolean
  /** Of the body, in pixels. */
  radius: number
  rate: number
  /** Share of a frame's time for which the shutter is open. */
  shutter: number
  encoder: Encoder
  camera: CameraWork
  /** Of the scene, of which a camera that moves sees a part at a time. */
  width: number
  height: number
  frames: number
}

/** Returns the choices of a clip: those that are stated, and random ones. */
export function chosen({ between, pick, chance }: Chooser, stated: Partial<ClipChoices>): ClipChoices {
  const width = stated.width ?? 640
  const height = stated.height ?? Math.round((width * 9) / 16)
  const size = width / 640
  const motionKind = stated.motion ?? pick(MOTIONS)
  // A stick is long and thin.
  const sizes = motionKind === 'tumble' ? [14, 36] : [6, 30]
  return {
    motion: motionKind,
    wall: pick(WALLS),
    extra: pick(EXTRAS),
    body: true,
    rest: 0,
    returns: false,
    radius: size * Math.exp(between(Math.log(sizes[0]), Math.log(sizes[1]))),
    rate: pick([24, 30, 60]),
    shutter: between(0.1, 0.9),
    encoder: chance(0.2)
      ? { codec: 'mjpeg', quality: Math.round(between(2, 6)) }
      : { codec: 'h264', crf: Math.round(between(18, 30)), keyEvery: pick([30, 60, 250]) },
    camera: 'still',
    width,
    height,
    frames: 0,
    ...stated,
  }
}
