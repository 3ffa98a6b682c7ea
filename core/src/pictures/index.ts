export { everyNth, layOver, stillGround } from './chronophotograph.ts'
