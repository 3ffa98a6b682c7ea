export { comparedReading, type LiveValue, liveValue, readingOf } from './liveValues.ts'
export { valueText } from './valueText.ts'
