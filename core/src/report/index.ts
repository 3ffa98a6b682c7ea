export { comparedReading, type LiveValue, liveValue, otherReading, readingOf } from './liveValues.ts'
export { valueText } from './valueText.ts'
