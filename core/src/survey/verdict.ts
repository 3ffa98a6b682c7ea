import { fixed, withUnit } from '../units/index.ts'
import type { ProposedCamera } from './cameraMotion.ts'

/** What is known of a clip before it is measured. */
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

/** One thing that was checked: whether it will do, and what it means. */
export interface Finding {
  subject:
    | 'Frame rate'
    | 'Times'
    | 'Motion blur'
    | 'Focus'
    | 'Light'
    | 'Steadiness'
    | 'Repeats'
    | 'Compression'
  grade: 'good' | 'fair' | 'poor'
  says: string
}

/** Share of a frame's time that the shutter is usually open for indoors and on dull days. */
const OPEN = 0.5

/** What limits a clip, in the order in which it matters, each with what it means for measuring. */
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
  if (frames < 2)
    return {
      subject: 'Frame rate',
      grade: 'poor',
      says: 'A single frame shows no motion. Lengths and angles can be measured in it.',
    }
  const seconds = withUnit(fixed(frames / rate, 1), 's')
  const says = `${withUnit(fixed(rate, 1), 'frames/s')} for ${seconds}.`
  if (rate < 20)
    return {
      subject: 'Frame rate',
      grade: 'poor',
      says: `${says} Fast motion has few points: choose 30 or more when filming.`,
    }
  return { subject: 'Frame rate', grade: rate < 50 ? 'fair' : 'good', says }
}

function timesFinding({ uneven, frames }: SurveyFacts): Finding | null {
  if (frames < 2) return null
  if (uneven === 0) return { subject: 'Times', grade: 'good', says: 'Frames follow each other evenly.' }
  return {
    subject: 'Times',
    grade: 'fair',
    says: `${uneven === 1 ? 'One frame comes' : `${uneven} frames come`} early or late. Their true times are used, so this does no harm.`,
  }
}

function repeatsFinding({ repeats }: SurveyFacts): Finding | null {
  if (repeats === 0) return null
  return {
    subject: 'Repeats',
    grade: 'poor',
    says: `${repeats === 1 ? 'One frame repeats' : `${repeats} frames repeat`} the picture before: the recording was saved at another rate. See the row of repeated frames.`,
  }
}

function blurFinding({ speed, rate, metresPerPixel }: SurveyFacts): Finding | null {
  if (!(speed > 0.5)) return null
  const smear = OPEN * speed
  const how = metresPerPixel
    ? `a body at ${withUnit(fixed(speed * rate * metresPerPixel, 1), 'm/s')} smears`
    : `a body that moves ${fixed(speed, 0)} px a frame smears`
  const says = `With the shutter open for half of each frame ${how} over ${fixed(smear, 0)} px.`
  if (smear < 4) return { subject: 'Motion blur', grade: 'good', says }
  return {
    subject: 'Motion blur',
    grade: smear < 15 ? 'fair' : 'poor',
    says: `${says} Mark the middle of the streak; more light or a sports mode makes it shorter.`,
  }
}

function focusFinding({ edge }: SurveyFacts): Finding | null {
  if (!Number.isFinite(edge)) return null
  const says = `Sharp edges are ${fixed(edge, 1)} px wide.`
  if (edge < 3.5) return { subject: 'Focus', grade: 'good', says }
  return {
    subject: 'Focus',
    grade: edge < 7 ? 'fair' : 'poor',
    says: `${says} Tap on the plane of motion to focus before filming.`,
  }
}

function lightFinding({ light }: SurveyFacts): Finding {
  const percent = (share: number) => withUnit(fixed(100 * share, 0), '%')
  if (light.dark > 0.4 || light.mean < 50)
    return {
      subject: 'Light',
      grade: light.mean < 35 ? 'poor' : 'fair',
      says: `${percent(light.dark)} of the picture is nearly black. Brightness can be raised on screen; more light makes less blur, too.`,
    }
  if (light.bright > 0.15)
    return {
      subject: 'Light',
      grade: 'fair',
      says: `${percent(light.bright)} of the picture is burnt out; a pale body is hard to see there.`,
    }
  return { subject: 'Light', grade: 'good', says: 'Neither too dark nor burnt out.' }
}

const CAMERA_DID: Record<ProposedCamera, string> = {
  still: 'stands still',
  turned: 'turns',
  zoomed: 'turns and zooms',
  tilted: 'turns, zooms and tilts',
}

function shakeFinding({ shake, camera }: SurveyFacts): Finding | null {
  const moves = camera !== null && camera !== 'still'
  const undone = moves ? ` The camera ${CAMERA_DID[camera]}: landmarks undo that, see its row.` : ''
  if (shake === null) return moves ? { subject: 'Steadiness', grade: 'fair', says: undone.trim() } : null
  const says = `The background moves by ${fixed(shake, 1)} px.${undone}`
  if (shake < 0.5 && !moves) return { subject: 'Steadiness', grade: 'good', says: 'The camera stands still.' }
  return {
    subject: 'Steadiness',
    grade: shake < 2 ? 'fair' : 'poor',
    says: moves ? says : `${says} That goes into every position: lean the camera on something.`,
  }
}

function compressionFinding({ bitsPerPixel }: SurveyFacts): Finding | null {
  if (!(bitsPerPixel > 0) || bitsPerPixel > 0.006) return null
  return {
    subject: 'Compression',
    grade: bitsPerPixel > 0.003 ? 'fair' : 'poor',
    says: 'The file is strongly compressed: small things blur and jump. Use the original, not one that was sent by a messenger.',
  }
}
