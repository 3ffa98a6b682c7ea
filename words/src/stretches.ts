import type { ProposedStretch, StretchEnd, StretchLaw } from '@apokinema/core/proposals'

/** What holds on a stretch that is proposed. */
const LAWS: Record<StretchLaw, string> = {
  uniform: 'steady motion',
  'uniform-acceleration': 'one acceleration',
  oscillation: 'to and fro',
}

const BEGINS: Record<StretchEnd, string> = {
  marks: '',
  rest: 'Before that it rests.',
  abrupt: 'Before that its velocity changes at once.',
  change: 'Before that it moves in another way.',
}

const ENDS: Record<StretchEnd, string> = {
  marks: '',
  rest: 'Then it comes to rest.',
  abrupt: 'Then its velocity changes at once: an impact?',
  change: 'Then it moves in another way.',
}

/** Returns the name of the law that holds on a stretch. */
export const stretchLaw = ({ law }: Pick<ProposedStretch, 'law'>): string => LAWS[law]

/** Returns why a stretch begins and ends where it does; empty where its marks do. */
export const stretchReasons = ({ begins, ends }: Pick<ProposedStretch, 'begins' | 'ends'>): string =>
  [BEGINS[begins], ENDS[ends]].filter(Boolean).join(' ')
