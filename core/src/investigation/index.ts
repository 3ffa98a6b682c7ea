export {
  BODY_COLOURS,
  BODY_SHAPES,
  type Body,
  type BodyColour,
  type BodyShape,
  type ById,
  DOCUMENT_VERSION,
  type Expected,
  type Fit,
  type FitForm,
  type Footage,
  type Graph,
  type Investigation,
  inOrder,
  type Mark,
  MODEL_IDS,
  type ModelId,
  newInvestigation,
  nextOrder,
  type Orientation,
  primaryReference,
  QUANTITY_IDS,
  type QuantityId,
  type Reference,
  type Stretch,
} from './document.ts'
export * as edits from './edits.ts'
export { framesInUse } from './framesInUse.ts'
export { pictureSize, type Turn, turnedDirection, turnedPoint } from './orientation.ts'
export {
  applyPatch,
  checkPatch,
  type Edited,
  edit,
  type Patch,
  PatchError,
  type PatchOperation,
  patchesMeet,
  type Recipe,
} from './patch.ts'
export { checkInvestigation } from './schema.ts'
export { type Summary, summarise } from './summary.ts'
export { NewerDocumentError, readInvestigation } from './versions.ts'
