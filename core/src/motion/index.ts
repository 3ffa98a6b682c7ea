export {
  type Arrow,
  type Arrows,
  arrowsOf,
  roundBelow,
  scaleArrow,
  VECTOR_KINDS,
  type VectorKind,
} from './arrows.ts'
export { type ColumnSample, columnSample, pointsIn, type Range } from './columnSample.ts'
export {
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
export { FOLLOWING_DRIFT, TYPICAL_CORRELATION } from './markCorrelation.ts'
export { type MarkErrors, markErrorOf, markErrors, pictureVelocity, speedPerFrame } from './markError.ts'
export { motionScales } from './motionScales.ts'
export { type MotionTable, type TableSettings, tablesOf } from './motionTable.ts'
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
export { type RoundTime, roundTimes } from './roundTimes.ts'
export { shownTable } from './shownTable.ts'
export { afterOscillations, turningPoints } from './swings.ts'
export { diagnoseTrack, type Outlier, type TrackDiagnosis } from './trackDiagnosis.ts'
