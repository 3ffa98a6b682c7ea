import type { ProposedCamera } from './cameraMotion.ts'

/** Measurements of a clip before it is used. */
export interface SurveyFacts {
  /** Real frames a second. */
  rate: number
  frames: number
  /** Frames whose time would put the body off. */
  uneven: number
  repeats: number
  /** Fastest motion, in pixels a frame. */
  speed: number
  /** Metres a pixel, where the scale is set. */
  metresPerPixel: number | null
  /** Root mean square of the background's shift, in pixels; null where it can't be told. */
  shake: number | null
  /** What the camera did by its still background; null where that can't be told. */
  camera: ProposedCamera | null
  /** Mean brightness, and shares that are too dark and too bright. */
  light: { mean: number; dark: number; bright: number }
  /** Width of the sharpest edges in pixels; NaN where it can't be told. */
  edge: number
  /** Bits of the file for each pixel of each frame. */
  bitsPerPixel: number
}

/** One thing that was checked, and whether it will do; `survey.ts` in `words` has the sentences. */
export type Finding = { grade: 'good' | 'fair' | 'poor' } & (
  | { code: 'single-frame' }
  /** Frames per second, and how long the clip is. */
  | { code: 'frame-rate'; rate: number; seconds: number }
  /** Frames that come early or late. */
  | { code: 'times'; uneven: number }
  | { code: 'repeats'; repeats: number }
  /** Pixels per frame, the same in the scene where there is a scale, and the length of the streak in pixels. */
  | { code: 'motion-blur'; speed: number; metresPerSecond: number | null; streak: number }
  /** Width of the sharpest edges in pixels. */
  | { code: 'focus'; edge: number }
  /** Share of the picture that is too dark or too bright. */
  | { code: 'light'; problem: 'dark' | 'bright' | null; share: number }
  /** Root mean square of the background's shift, in pixels; null where it can't be told. */
  | { code: 'steadiness'; shake: number | null; camera: ProposedCamera | null }
  | { code: 'compression' }
)

/** Share of a frame's time that the shutter is usually open for indoors and on dull days. */
const OPEN = 0.5

/** Returns the findings about a clip, the most important first. */
export function verdictOn(facts: SurveyFacts): Finding[] {
  return [
    rateFinding(facts),
    timesFinding(facts),
    repeatsFinding(facts),
    blurFinding(facts),
    focusFinding(facts),
    lightFinding(facts),
    shakeFinding(facts),
    compressionFinding(facts),
  ].filter((finding) => finding !== null)
}

function rateFinding({ rate, frames }: SurveyFacts): Finding {
  if (frames < 2) return { code: 'single-frame', grade: 'poor' }
  const grade = rate < 20 ? 'poor' : rate < 50 ? 'fair' : 'good'
  return { code: 'frame-rate', grade, rate, seconds: frames / rate }
}

function timesFinding({ uneven, frames }: SurveyFacts): Finding | null {
  return frames < 2 ? null : { code: 'times', grade: uneven === 0 ? 'good' : 'fair', uneven }
}

function repeatsFinding({ repeats }: SurveyFacts): Finding | null {
  return repeats === 0 ? null : { code: 'repeats', grade: 'poor', repeats }
}

function blurFinding({ speed, rate, metresPerPixel }: SurveyFacts): Finding | null {
  if (!(speed > 0.5)) return null
  const streak = OPEN * speed
  const grade = streak < 4 ? 'good' : streak < 15 ? 'fair' : 'poor'
  const metresPerSecond = metresPerPixel ? speed * rate * metresPerPixel : null
  return { code: 'motion-blur', grade, speed, metresPerSecond, streak }
}

function focusFinding({ edge }: SurveyFacts): Finding | null {
  if (!Number.isFinite(edge)) return null
  return { code: 'focus', grade: edge < 3.5 ? 'good' : edge < 7 ? 'fair' : 'poor', edge }
}

function lightFinding({ light: { mean, dark, bright } }: SurveyFacts): Finding {
  if (dark > 0.4 || mean < 50)
    return { code: 'light', grade: mean < 35 ? 'poor' : 'fair', problem: 'dark', share: dark }
  if (bright > 0.15) return { code: 'light', grade: 'fair', problem: 'bright', share: bright }
  return { code: 'light', grade: 'good', problem: null, share: 0 }
}

function shakeFinding({ shake, camera }: SurveyFacts): Finding | null {
  const isMoving = camera !== null && camera !== 'still'
  if (shake === null) return isMoving ? { code: 'steadiness', grade: 'fair', shake, camera } : null
  const grade = shake < 0.5 && !isMoving ? 'good' : shake < 2 ? 'fair' : 'poor'
  return { code: 'steadiness', grade, shake, camera }
}

function compressionFinding({ bitsPerPixel }: SurveyFacts): Finding | null {
  if (!(bitsPerPixel > 0) || bitsPerPixel > 0.006) return null
  return { code: 'compression', grade: bitsPerPixel > 0.003 ? 'fair' : 'poor' }
}
