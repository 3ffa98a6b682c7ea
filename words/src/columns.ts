import type { SeriesNote } from '@apokinema/core/graphs'
import type { Column, ColumnNote, MissingValue } from '@apokinema/core/motion'
import { derivationText } from './derivatives.ts'
import { expressionProblemText } from './expressionProblems.ts'
import { type Sentences, sentence } from './sentences.ts'

const MISSING: Sentences<MissingValue> = {
  mass: () => 'The mass of this body is missing. Enter it under Measure, “What moves?”.',
  masses: () => 'This needs the masses of all bodies. Enter them under Measure, “What moves?”.',
  scale: () => 'This needs a scale. Set a reference length under Measure, “How big is it?”.',
  second: () => 'This needs a second point of the body, which shows its rotation.',
  other: () => 'This needs another body.',
  definition: ({ problem }) => expressionProblemText(problem),
}

const missingText = sentence(MISSING)

const NOTES: Sentences<ColumnNote> = {
  derived: ({ derivation }) => `${derivationText(derivation)} They are not computed across a break or a gap.`,
  'division-by-zero': ({ rows }) =>
    `No value in ${rows === 1 ? 'one row' : `${rows} rows`}: division by zero.`,
}

const noteText = sentence(NOTES)

/** Returns what there is to know about the values of a column; null for nothing. */
export function columnText({ missing, notes }: Pick<Column, 'missing' | 'notes'>): string | null {
  if (missing) return missingText(missing)
  return notes.length > 0 ? notes.map(noteText).join(' ') : null
}

const SERIES: Sentences<SeriesNote> = {
  missing: ({ missing }) => missingText(missing),
  empty: ({ notes }) => columnText({ missing: null, notes }) ?? 'No points in the span.',
  'off-scale': ({ points }) =>
    `${points === 1 ? 'One point does' : `${points} points do`} not fit on these scales.`,
}

/** Returns why a series has no points, or not all. */
export const seriesText = sentence(SERIES)
