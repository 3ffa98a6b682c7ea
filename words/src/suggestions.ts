import type { Suggestion, SuggestionVerdict } from '@apokinema/core/fitting'
import { fitProblemText } from './fitProblems.ts'
import { type Sentences, sentence } from './sentences.ts'

const VERDICTS: Sentences<SuggestionVerdict> = {
  'best-but-bent': () => 'The best of these, but the residuals still show a bend.',
  best: () => 'Leaves only random scatter.',
  bent: () => 'The residuals show a bend.',
  'not-comparable': () => 'Too few points to compare it.',
  'idle-parameter': ({ parameter }) => `Fits as well, but its ${parameter} is zero within its error.`,
  'more-parameters': () => 'Fits as well, but with more parameters than needed.',
  'no-better': () => 'Fits no better, with more parameters.',
  close: () => 'Fits nearly as well.',
  worse: () => 'Leaves more scatter.',
  impossible: ({ problem }) => fitProblemText(problem),
}

const verdictText = sentence(VERDICTS)

/** Returns how a suggested model does beside the others. */
export const suggestionText = ({ verdict }: Pick<Suggestion, 'verdict'>): string => verdictText(verdict)
