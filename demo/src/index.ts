export { fill, readTruth } from './fill.ts'
export { measuredSample, sampleIds } from './measuredSample.ts'
