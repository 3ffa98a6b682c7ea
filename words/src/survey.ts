import type { Finding, ProposedCamera } from '@apokinema/core/survey'
import { fixed, withUnit } from '@apokinema/core/units'
import { type Sentences, sentence } from './sentences.ts'

const SUBJECTS: Readonly<Record<Finding['code'], string>> = {
  'single-frame': 'Frame rate',
  'frame-rate': 'Frame rate',
  times: 'Times',
  repeats: 'Repeats',
  'motion-blur': 'Motion blur',
  focus: 'Focus',
  light: 'Light',
  steadiness: 'Steadiness',
  compression: 'Compression',
}

/** Returns what a finding is about. */
export const findingSubject = ({ code }: Pick<Finding, 'code'>): string => SUBJECTS[code]

const percent = (share: number) => withUnit(fixed(100 * share, 0), '%')

const CAMERA_DID: Record<ProposedCamera, string> = {
  still: 'stands still',
  turned: 'turns',
  zoomed: 'turns and zooms',
  tilted: 'turns, zooms and tilts',
}

/** Puts sentences one after the other, without those that are not said. */
const said = (...sentences: (string | false)[]) => sentences.filter(Boolean).join(' ')

const FINDINGS: Sentences<Finding> = {
  'single-frame': () => 'A single frame shows no motion. You can measure lengths and angles in it.',
  'frame-rate': ({ rate, seconds, grade }) =>
    said(
      `${withUnit(fixed(rate, 1), 'frames/s')} for ${withUnit(fixed(seconds, 1), 's')}.`,
      grade === 'poor' && 'Fast motion gets only a few points: choose 30 or more when you film.',
    ),
  times: ({ uneven }) =>
    uneven === 0
      ? 'The frames are evenly spaced in time.'
      : `${uneven === 1 ? 'One frame comes' : `${uneven} frames come`} early or late. Their true times are used, so this does no harm.`,
  repeats: ({ repeats }) =>
    `${repeats === 1 ? 'One frame repeats' : `${repeats} frames repeat`} the picture before it: the recording was saved at another rate. See the row of repeated frames.`,
  'motion-blur': ({ speed, metresPerSecond, streak, grade }) =>
    said(
      `If the shutter is open for half of each frame, a body ${
        metresPerSecond === null
          ? `that moves ${fixed(speed, 0)} px per frame`
          : `at ${withUnit(fixed(metresPerSecond, 1), 'm/s')}`
      } smears over ${fixed(streak, 0)} px.`,
      grade !== 'good' && 'Mark the middle of the streak. More light or a sports mode makes it shorter.',
    ),
  focus: ({ edge, grade }) =>
    said(
      `Sharp edges are ${fixed(edge, 1)} px wide.`,
      grade !== 'good' && 'Tap on the plane of motion to focus before you film.',
    ),
  light: ({ problem, share }) =>
    problem === 'dark'
      ? `${percent(share)} of the picture is nearly black. You can raise the brightness on screen; more light also means less blur.`
      : problem === 'bright'
        ? `${percent(share)} of the picture is overexposed: a pale body is hard to see there.`
        : 'Neither too dark nor overexposed.',
  steadiness: ({ shake, camera, grade }) => {
    const isMoving = camera !== null && camera !== 'still'
    if (grade === 'good') return 'The camera stands still.'
    return said(
      shake !== null && `The background moves by ${fixed(shake, 1)} px.`,
      isMoving && `The camera ${CAMERA_DID[camera]}: landmarks correct that, see its row.`,
      !isMoving && 'Every position has that error: lean the camera on something.',
    )
  },
  compression: () =>
    'The file is strongly compressed: small things blur and jump. Use the original, not a copy that was sent by a messenger.',
}

/** Returns what a finding means for measuring. */
export const findingText = sentence(FINDINGS)
