export { CSV_COLUMNS, fileNameOf, motionCsv } from './csv.ts'
