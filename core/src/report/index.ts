export { comparedReading, type LiveValue, liveValue, otherReading } from './liveValues.ts'
export { seriesValue } from './seriesValues.ts'
export { fillTemplate, type ReportTemplate, readTemplate, templateOf } from './template.ts'
export { valueText } from './valueText.ts'
