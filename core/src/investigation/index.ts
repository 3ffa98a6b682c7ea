export { indexOfFrame } from './byFrame.ts'
export {
  BODY_COLOURS,
  BODY_SHAPES,
  type Body,
  type BodyColour,
  type BodyShape,
  type BreakWord,
  bodyNames,
  freeColour,
  type Mark,
  OUTLIER_LIMIT,
} from './document/bodies.ts'
export {
  type AxesSet,
  CALIBRATION_PARTS,
  CAMERA_MOTIONS,
  type CalibrationPart,
  type Camera,
  FIRST_AXES,
  type Gravity,
  type KnownMotion,
  type Landmark,
  type Lens,
  type Lock,
  type PlacedPoint,
  type Plane,
  PROBE_KINDS,
  PROBE_POINTS,
  type Probe,
  type ProbeKind,
  type Reference,
  type ReferenceUse,
} from './document/calibration.ts'
export {
  type Against,
  type Calculation,
  type Expected,
  type Fit,
  type FitForm,
  type FittedTogether,
  MODEL_IDS,
  MOST_FREE_FORM,
  type ModelId,
  newFit,
  ROBUST_IDS,
  type RobustId,
  type Stretch,
} from './document/fits.ts'
export type { Footage, Orientation } from './document/footage.ts'
export {
  GRAPH_HEIGHTS,
  type Graph,
  type GraphedQuantity,
  type GraphNote,
  type HandTangent,
  MARK_STYLES,
  type MarkStyle,
  MOST_POINTS,
  newGraph,
  newScaling,
  type Overlay,
  type Scaling,
  TRANSFORM_IDS,
  type TransformId,
} from './document/graphs.ts'
export {
  axesOf,
  DOCUMENT_VERSION,
  type Drawn,
  type Investigation,
  newInvestigation,
} from './document/investigation.ts'
export { type ById, inOrder, nextOrder } from './document/order.ts'
export {
  type Constant,
  type CustomQuantity,
  DERIVATIVE_IDS,
  type Derivation,
  type DerivativeId,
  MOST_EXPRESSION,
  QUANTITY_IDS,
  type QuantityId,
  REACH,
  TIME,
} from './document/quantities.ts'
export { type Refusal, type RefusedProposal, refusalsOf } from './document/refusals.ts'
export {
  AS_MEASURED,
  type AxisRange,
  type Block,
  type BlockContent,
  type BlockKind,
  COLUMN_STATISTICS,
  COMPARED_VALUES,
  type ColumnStatistic,
  type ComparedValue,
  contentOf,
  FIGURE_WIDTHS,
  FIT_STATISTICS,
  type FitStatistic,
  type Inline,
  isLink,
  isPhotoData,
  MOST_INDENT,
  MOST_TEX,
  MOTION_FORMS,
  type MotionForm,
  newReport,
  PAPERS,
  type Paper,
  type Pin,
  type PrintedBlock,
  plainText,
  type Report,
  type Reported,
  TEXT_MARKS,
  TEXT_STYLES,
  type TextMark,
  type TextStyle,
  VALUE_PARTS,
  type ValueFormat,
  type ValuePart,
  type ValueSource,
  wholeRange,
} from './document/report.ts'
export * as edits from './edits/index.ts'
export { framesInUse } from './framesInUse.ts'
export { type Gap, gapsOf } from './gaps.ts'
export { LIMITS } from './limits.ts'
export { pictureSize, turnedDirection } from './orientation.ts'
export {
  applyPatch,
  checkPatch,
  compactPatch,
  type Edited,
  edit,
  type Mutator,
  type Patch,
  PatchError,
  type PatchOperation,
  patchesMeet,
  together,
} from './patch.ts'
export { framesOf, markedFrames, restOver } from './rests.ts'
export {
  byId,
  byKind,
  finite,
  flag,
  isPlainObject,
  isUuid,
  text,
  title,
  uuid,
  whatIsWrong,
  whole,
} from './schema/fields.ts'
export { calculation as calculationSchema, lawFields } from './schema/graphs.ts'
export { checkInvestigation, checkInvestigationInSteps, checkPatchedInSteps } from './schema/index.ts'
export { readBlockContent, readInline, reportSchema } from './schema/report.ts'
export { type Summary, summarise } from './summary.ts'
export { cleanTitle, cutText, isKeepable, isOneLine } from './text.ts'
export { checkValue } from './values.ts'
export {
  NewerDocumentError,
  readInvestigation,
  readInvestigationInSteps,
  withKnownBlocks,
} from './versions.ts'
