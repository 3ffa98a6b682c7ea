export {
  type Arrow,
  type Arrows,
  arrowsOf,
  roundBelow,
  scaleArrow,
  VECTOR_KINDS,
  type VectorKind,
} from './arrows.ts'
export type { AxesError } from './axesErrors.ts'
export { type CameraErrors, cameraErrors } from './cameraErrors.ts'
export { clockOf, type InvestigationClock } from './clockOf.ts'
export { type ColumnSample, columnSample, pointsIn, type Range } from './columnSample.ts'
export {
  type CalibrationParameter,
  type Column,
  type ColumnNote,
  type MissingValue,
  once,
  type PositionColumn,
} from './columns/column.ts'
export {
  areAlike,
  asName,
  CustomDefinitions,
  definitionProblem,
  type Expression,
  ExpressionError,
  type ExpressionProblem,
  expressionTex,
  FUNCTIONS,
  type KnownNumber,
  knownNumbers,
  type NameProblem,
  type Node,
  nameProblem,
  parsed,
  quantityInfo,
  readExpression,
} from './custom/index.ts'
export {
  type DataColumn,
  type DataTable,
  dataTable,
  MOST_ROWS,
  type NameOf,
  PICTURE_COLUMNS,
} from './dataTable.ts'
export {
  biasBounds,
  DERIVATIVES,
  type DerivationPoints,
  type DerivativeMethod,
  type Derived,
  derivativeAt,
  pickPoints,
} from './derivatives/index.ts'
export { commonError, ErrorSensitivity, frameOfError } from './errorSensitivity.ts'
export { type ExpectedPlace, expectedPlace } from './expected.ts'
export { flaggedFrames } from './flaggedFrames.ts'
export type { InvestigationScene } from './investigationScene.ts'
export { TYPICAL_CORRELATION } from './markCorrelation.ts'
export { type MarkErrors, markErrorOf, markErrors, pictureVelocity, speedPerFrame } from './markError.ts'
export { type MotionTable, type TableSettings, tablesOf } from './motionTable.ts'
export { type PlaneReport, planeReport } from './planeReport.ts'
export { type ProbeReading, probeReading } from './probes.ts'
export {
  alongLine,
  type CustomDefinition,
  dimension,
  type Need,
  type PositionQuantity,
  QUANTITIES,
  QUANTITY_GROUPS,
  type Quantity,
  type QuantityInfo,
  quantitiesOf,
} from './quantities/index.ts'
export { type ReferenceReport, referenceReports } from './referenceReports.ts'
export { type RoundTime, roundTimes } from './roundTimes.ts'
export {
  cameraOf,
  composeScene,
  lensFitOf,
  lensOf,
  placeIn,
} from './sceneOf.ts'
export { shownTable } from './shownTable.ts'
export { afterOscillations, turningPoints } from './swings.ts'
export { diagnoseTrack, type Outlier, type TrackDiagnosis } from './trackDiagnosis.ts'
