export { everyNth, layOver, spreadEvenly, stillGround } from './chronophotograph.ts'
