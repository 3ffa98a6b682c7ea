import type { ExpressionProblem } from '@apokinema/core/motion'
import { type Sentences, sentence } from './sentences.ts'

/** Characters of a name that somebody has typed that are repeated at most. */
const MOST_NAME = 40

const short = (name: string) => name.slice(0, MOST_NAME)
const unitText = (unit: string) => unit || 'a pure number'

const PROBLEMS: Sentences<ExpressionProblem> = {
  'unknown-unit': ({ unit }) => `“${short(unit)}” is not a known unit.`,
  'wrong-unit': ({ found, wanted }) =>
    `It comes out in ${unitText(found)}, which is not ${unitText(wanted)}.`,
  'unknown-name': ({ name }) => `There is nothing called “${short(name)}”.`,
  circular: ({ name, isDirect }) =>
    `“${short(name)}” is defined by itself${isDirect ? ': it stands in its own expression' : ', through others in its expression'}.`,
  'too-long': ({ most }) =>
    `That is longer than ${most} characters. Define parts of it as separate quantities.`,
  unreadable: ({ at }) =>
    at ? `It can’t be read at character ${at.character}: “${at.text}”.` : 'It can’t be read.',
  'unknown-function': ({ name, known }) =>
    `There is no function “${short(name)}”. You can use ${known.join(', ')}.`,
  'argument-count': ({ name, count }) => `${name} takes ${count === 1 ? 'one number' : 'two numbers'}.`,
  'argument-pure': ({ name }) => `${name} takes a pure number.`,
  'argument-angle': ({ name }) => `${name} takes a pure number or an angle.`,
  'arguments-alike': ({ name }) => `${name} takes two values of the same unit.`,
  empty: () => 'Write an expression, such as 0.5*m*v^2.',
  'too-deep': () => 'That is nested too deeply.',
  'not-allowed': () => 'Use only numbers, names, + − * / ^, parentheses and functions.',
  operator: () => 'Use only + − * / and ^ between numbers.',
  'different-units': () => 'It adds values that have different units.',
  'exponent-unit': () => 'An exponent has no unit.',
  'exponent-varies': () => 'A value with a unit can only be raised to a fixed number.',
  'division-by-zero': () => 'No value: division by zero.',
  'weighted-names': () => 'A weighted mean takes several names, separated by commas.',
  'weighted-errors': () => 'A weighted mean takes numbers whose errors are known.',
}

/** Returns why an expression can't be used. */
export const expressionProblemText = sentence(PROBLEMS)
