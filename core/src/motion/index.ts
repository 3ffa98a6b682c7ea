export { type CameraErrors, cameraErrors } from './cameraErrors.ts'
export { clockOf, type InvestigationClock } from './clockOf.ts'
export { type ColumnSample, columnSample } from './columnSample.ts'
export { threePointSlope } from './derivative.ts'
export { flaggedFrames } from './flaggedFrames.ts'
export { markErrorOf, pictureVelocity, speedPerFrame } from './markError.ts'
export { type Column, type MotionTable, motionTable } from './motionTable.ts'
export { type PlaneReport, planeReport } from './planeReport.ts'
export { type ProbeReading, probeReading } from './probes.ts'
export { type LengthUnit, QUANTITIES, type Quantity, quantityUnit } from './quantities.ts'
export { type ReferenceReport, referenceReports } from './referenceReports.ts'
export {
  cameraOf,
  type InvestigationScene,
  lensFitOf,
  lensOf,
  placeIn,
  sceneOf,
} from './sceneOf.ts'
export { shownTable } from './shownTable.ts'
export { type Course, courseOf, STRAY_LIMIT, type Stray } from './strays.ts'
export { afterOscillations, turningPoints } from './swings.ts'
