export { framesSeen, type ProposedBody, placeOfProposed, proposedBodies } from './bodies.ts'
export { bodyStretches, openStretches } from './bodyStretches.ts'
export type { ProposedStretch, StretchEnd, StretchLaw } from './stretches.ts'
