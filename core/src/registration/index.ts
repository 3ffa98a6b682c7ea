export { type BodySighting, type BodyTemplate, sightingsOfKnown } from './knownBody.ts'
export { type Registration, registerViews, VIEW_TROUBLES, type ViewTrouble } from './registerViews.ts'
export { type ViewMotion, viewError, viewStep } from './viewMotion.ts'
