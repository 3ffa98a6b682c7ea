import type { Suspect, SuspectReason, SuspectSize } from '@apokinema/core/analysis'
import { degrees, measurement, significant, withUnit } from '@apokinema/core/units'
import { type Sentences, sentence } from './sentences.ts'

const CAUSES: Readonly<Record<Suspect['cause'], string>> = {
  scale: 'The reference length',
  'slow-motion': 'Slow motion',
  stretch: 'The stretch',
  outlier: 'An outlier',
  tilt: 'The tilt of the axes',
  depth: 'The depth of the ruler',
  readout: 'Rolling shutter',
  drag: 'Air drag',
  blur: 'Motion blur',
}

/** Returns the name of what may be behind a reading that misses what is expected. */
export const causeText = ({ cause }: Pick<Suspect, 'cause'>): string => CAUSES[cause]

const percent = (factor: number) => withUnit(significant(100 * Math.abs(factor - 1), 2), '%')
const metres = (length: number) => withUnit(significant(length, 4), 'm')

const ENDS = { start: 'its start', end: 'its end', both: 'both its ends' } as const

const SIZES: Sentences<SuspectSize> = {
  lengths: ({ factor }) =>
    `All lengths would have to be ${percent(factor)} ${factor > 1 ? 'longer' : 'shorter'}.`,
  reference: ({ name, needed, stated }) =>
    `“${name}” would have to be ${metres(needed)} long instead of ${metres(stated)}.`,
  playback: ({ factor }) =>
    factor > 1
      ? `The clip would have to play ${significant(factor, 3)} times slower than we assume.`
      : `The clip would have to play ${significant(1 / factor, 3)} times faster than we assume.`,
  'without-ends': ({ ends, value, error, unit }) =>
    `Without ${ENDS[ends]}: ${measurement(value, error, unit)}.`,
  'far-mark': () => 'One mark would have to lie far off the curve.',
  'without-frame': ({ frame, value, error, unit }) =>
    `Without frame ${frame}: ${measurement(value, error, unit)}.`,
  'tilt-only-reduces': () => 'A tilt never makes a reading larger than it is along its own direction.',
  'tilt-angle': ({ angle }) => `The axes would have to be turned by ${degrees(angle)}.`,
  'ruler-depth': ({ factor }) =>
    `The ruler would have to be ${percent(factor)} ${factor > 1 ? 'closer to' : 'farther from'} the camera than the motion.`,
  'readout-time': ({ seconds }) =>
    `The sensor would have to take ${withUnit(significant(1000 * Math.abs(seconds), 2), 'ms')} from its ${seconds > 0 ? 'top to its bottom' : 'bottom to its top'} row.`,
  'drag-share': ({ factor }) =>
    `It would have to take away ${percent(factor)} of the acceleration on average.`,
  'drag-only-reduces': () => 'Air drag only makes an acceleration smaller.',
  'blur-shift': () => 'If a streak is always marked at the same end, all times shift by the same amount.',
}

/** Returns how large a cause would have to be to explain the gap. */
export const suspectSizeText = sentence(SIZES)

const REASONS: Sentences<SuspectReason> = {
  'check-agrees': () =>
    'Another reference in the picture says the same: the scale is off by about that much.',
  'check-disagrees': () => 'Another reference in the picture agrees with the scale as it is.',
  'mixed-units': () => 'That is exactly what mixing up two units of length does.',
  'too-large-a-slip': () => 'Nobody misreads a length by that much.',
  'round-length': ({ length }) =>
    `${withUnit(String(length), 'm')} is a round length: it may have been mistyped.`,
  'scale-unknown': () =>
    'The motion itself can’t tell, since every length changes with the scale. Check what was typed, and measure it again.',
  'capture-rate-unset': ({ rate }) =>
    `That fits a clip captured at ${rate} frames per second, and no capture rate is set.`,
  'clock-better': () => 'Camera clocks are much better than that, and no slow motion is that slight.',
  'no-such-rate': () => 'No common capture rate gives that factor.',
  'other-motion': () => 'The points there belong to another motion: a release, an impact, a hand.',
  'ends-agree': () => 'The points at its ends agree with all the others.',
  'no-outlier': () => 'None does.',
  'outlier-offset': ({ frame, offset, unit }) =>
    `The point of frame ${frame} lies ${withUnit(significant(Math.abs(offset), 2), unit)} off the curve.`,
  'only-smaller': () => 'It could only make the reading smaller.',
  'tilt-visible': () => 'Anybody would see that.',
  'other-axis-unknown': () => 'The other axis does not tell.',
  'other-axis-agrees': () => 'The other axis shows just as much acceleration as that tilt would make.',
  'other-axis-disagrees': ({ value, error, unit, isLess }) =>
    `The other axis shows ${measurement(value, error, unit)}: too ${isLess ? 'little' : 'much'} for that.`,
  'depth-visible': () => 'You would see that in the picture.',
  'depth-unknown': () => 'The picture can’t tell. Was the ruler in the plane of the motion?',
  'readout-too-long': () => 'No sensor takes that long.',
  'readout-typical': () => 'Phones take 5 to 30 ms. If a vertical edge leans when it moves fast, that is it.',
  'reading-too-large': () => 'The reading is too large for that.',
  'drag-seen': () => 'The acceleration does get smaller along the stretch.',
  'drag-not-seen': () => 'The acceleration does not get that much smaller along the stretch.',
  'drag-unknown': () => 'These points can’t tell whether the acceleration gets smaller along the stretch.',
  'blur-no-rate': () => 'That changes no speed and no acceleration.',
}

/** Returns why the data speak for a cause, or against it. */
export const suspectReasonText = sentence(REASONS)
