import { type NameProblem, nameProblem } from '@apokinema/core/motion'
import { type Sentences, sentence } from './sentences.ts'

const PROBLEMS: Sentences<NameProblem> = {
  characters: () => 'Start with a letter, then use letters, digits or _.',
  taken: ({ name }) => `“${name}” is taken already.`,
}

/** Returns why something can't be called so in expressions. */
export const nameProblemText = sentence(PROBLEMS)

/** Returns why a symbol can't be used; null where it can. */
export function nameText(name: string, isTaken: boolean): string | null {
  const problem: NameProblem | null = isTaken ? { code: 'taken', name } : nameProblem(name)
  return problem && nameProblemText(problem)
}
