export { type DelimitedOptions, delimited, headOf, written } from './csv.ts'
export { fileNameOf } from './fileName.ts'
export { htmlTable } from './html.ts'
export {
  PACKED_ENTRY,
  PACKED_VERSION,
  PackedError,
  type PackedInvestigation,
  type PackedProblem,
  type PackedText,
  packedTexts,
  readPacked,
} from './packed.ts'
export { type ReadTable, readTable, seriesOf } from './readTable.ts'
export { resultsSheet, seriesCsv, seriesJson, seriesSheet } from './seriesFiles.ts'
export { type Cell, motionSheet, type Sheet } from './sheets.ts'
export { tableJson } from './tableJson.ts'
