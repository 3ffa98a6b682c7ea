import type { PackedProblem } from '@apokinema/core/formats'
import { type Sentences, sentence } from './sentences.ts'

const PROBLEMS: Sentences<PackedProblem> = {
  damaged: ({ why }) =>
    `The investigation in this ZIP is damaged${why === null ? '' : `: ${why}`}. Nothing was changed.`,
  'no-investigation': () => 'This ZIP holds no investigation. Nothing was changed.',
  newer: () => 'This investigation was packed by a newer version of Apokinema. Nothing was changed.',
  'too-large': () => 'The investigation in this ZIP is larger than any can be. Nothing was changed.',
  'footage-unsound': () => 'The footage in this ZIP is not as it should be. Nothing was changed.',
  'zip-damaged': () => 'This ZIP is cut off or damaged. Nothing was changed.',
}

/** Returns why an investigation can't be read out of a file. */
export const packedProblemText = sentence(PROBLEMS)
