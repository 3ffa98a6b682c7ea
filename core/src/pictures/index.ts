export { everyNth, layOver, spreadAperiodically, spreadEvenly, stillGround } from './chronophotograph.ts'
export { type Divisions, findDivisions } from './divisions.ts'
export type { ColourPicture } from './lineProfile.ts'
export { SNAP_REACH, type SnappedEnd, snapEnd } from './snapEnd.ts'
