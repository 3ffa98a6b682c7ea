import type { OutlineProblem } from '@apokinema/core/following'
import { type Sentences, sentence } from './sentences.ts'

const PROBLEMS: Sentences<OutlineProblem> = {
  'outside-picture': () => 'This place is outside the picture.',
  'no-contrast': () =>
    'Nothing stands out here: it looks the same all around, so it could not be found again. Click something with an edge or a pattern.',
  'too-few-pixels': () => 'Too few pixels have this colour. Zoom in and click its middle.',
  'same-colour-around': () =>
    'What is around it has the same colour, so colour can’t tell it apart. Click another spot of it, or follow it by its look.',
}

/** Returns why a place that was clicked can't be followed. */
export const outlineProblemText = sentence(PROBLEMS)
