import type { Doubt } from '@apokinema/core/fitting'
import { measurement, significant, withUnit } from '@apokinema/core/units'
import { type Sentences, sentence } from './sentences.ts'

const DOUBTS: Sentences<Doubt> = {
  break: () =>
    'There is a break in this stretch, so no single motion fits all of it. End the stretch before the break, and fit what comes after it separately.',
  bend: ({ runs, expectedRuns }) =>
    `The residuals stay on one side for too long (${runs} runs, where chance would give about ${Math.round(expectedRuns)}). The points bend in a way that this model does not.`,
  outlier: ({ frame, offset, unit, without }) =>
    `The point of frame ${frame} lies ${withUnit(significant(Math.abs(offset), 2), unit)} off the curve. Without it: ${without.name.toLowerCase()} ${measurement(without.value, without.error, without.unit)}.`,
  scatter: ({ ratio }) =>
    `The points scatter ${significant(ratio, 2)} times more than the errors of their marks explain. There is more to this motion than the model has.`,
  fold: () =>
    'At its sharpest turn the curve is narrower than the errors of the points, so nobody can tell which side of it a point belongs to. The result may be further off than its error says. Derive over more points, or fit each quantity against time.',
  few: ({ spare }) =>
    spare <= 0
      ? 'There are as many parameters as points: the curve goes through all of them, and nothing shows how good it is.'
      : `There ${spare === 1 ? 'is only one more point' : `are only ${spare} more points`} than parameters, so the errors are hardly known.`,
  'few-periods': ({ periods }) =>
    `The stretch lasts only ${significant(periods, 2)} periods. With so little of the swing, its middle and its period can’t be found independently.`,
  'few-time-constants': ({ count }) =>
    `The stretch lasts only ${significant(count, 2)} of its time constants. The limit lies far beyond the points, so it is only as good as the model.`,
  position: ({ order }) =>
    `Neighbouring ${order === 1 ? 'velocities' : 'accelerations'} are computed from the same marks; the errors allow for that. A fit to position uses the marks directly.`,
}

/** Returns what speaks against a fit, and what to do about it. */
export const doubtText = sentence(DOUBTS)
