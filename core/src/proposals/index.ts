export { type ProposedBody, placeOfProposed, proposedBodies } from './bodies.ts'
