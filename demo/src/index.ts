export { fill, readTruth } from './fill.ts'
