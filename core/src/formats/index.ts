export { CSV_COLUMNS, type CsvColumn, fileNameOf, motionCsv } from './csv.ts'
