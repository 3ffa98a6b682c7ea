export {
  type AxesError,
  type AxesInScene,
  CALIBRATION_PARAMETERS,
  type CalibrationParameter,
} from './axesErrors.ts'
export { type CameraErrors, cameraErrors } from './cameraErrors.ts'
export { clockOf, type InvestigationClock, timeOfFrame } from './clockOf.ts'
export { cameraOf, composeScene, lensFitOf, lensOf, type PixelScene, placeIn } from './composeScene.ts'
export type { InvestigationScene } from './investigationScene.ts'
export { type PlaneReport, planeReport } from './planeReport.ts'
export { type ProbeReading, probeReading } from './probes.ts'
export { type ReferenceReport, referenceReports } from './referenceReports.ts'
