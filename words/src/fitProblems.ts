import type { FitProblem } from '@apokinema/core/regression'
import { type Sentences, sentence } from './sentences.ts'

const points = (count: number) => (count === 1 ? '1 point' : `${count} points`)
const thereAre = (count: number) => `there ${count === 1 ? 'is' : 'are'} ${count}`

const PROBLEMS: Sentences<FitProblem> = {
  'too-few-points': ({ needed, points: count }) =>
    `This fit needs at least ${points(needed)}${needed > 1 ? ' at different times' : ''}; ${thereAre(count)}.`,
  'too-few-for-swing': ({ isDamped, needed, points: count }) =>
    `A ${isDamped ? 'damped ' : ''}swing needs at least ${points(needed)}; ${thereAre(count)}.`,
  'not-a-number': ({ point }) => `Point ${point} is not a number.`,
  'no-point-in-stretch': () => 'This stretch has no points of this quantity.',
  'too-many-iterations': ({ iterations }) => `The fit did not settle within ${iterations} steps.`,
  'model-does-not-apply': ({ model }) => `“${model}” does not apply to this quantity.`,
  'parameter-undetermined': ({ parameter }) => `Undetermined: these points do not fix the ${parameter}.`,
  'nothing-to-fit': ({ variable }) =>
    `There is no parameter in it. Name what you want to find, such as a in a*${variable}.`,
  'too-many-parameters': ({ parameters, most }) => `It has ${parameters} parameters; the limit is ${most}.`,
  'no-parameters': () => 'There is no parameter to find.',
  'all-parameters-fixed': () => 'Every parameter is fixed: there is nothing left to find.',
  'parameters-indistinguishable': () => 'The points can’t tell the parameters apart.',
  'not-converged': () => 'The fit did not settle: no step makes it better.',
  'no-value-at-start': () => 'The model has no value where the fit starts.',
  'no-start': () => 'No starting point for this fit was found.',
  'no-resemblance': () => 'The points look nothing like this model.',
  overflow: () => 'The values of the model grow without limit.',
  'errors-unknown': () => 'The errors of these quantities are not known.',
  'weights-not-converged': () => 'The choice of outliers did not settle.',
  'one-time': () => 'All points are at the same time.',
  'less-than-a-period': () => 'Undetermined: the stretch is shorter than one period of the swing.',
  'too-few-points-a-period': () => 'Undetermined: there are fewer than 2.5 points per period.',
  'no-break': () => 'There is no break in this stretch. Set breaks in the lane under Measure.',
  'not-positive': () =>
    'Some points are at zero or below, where this model has no value. Start the stretch later, or move the origin or time zero.',
  'closed-curve': () => 'A closed curve has no single value here.',
  'quantity-missing': () => 'This quantity has no values yet.',
}

/** Returns why points could not be fitted. */
export const fitProblemText = sentence(PROBLEMS)
