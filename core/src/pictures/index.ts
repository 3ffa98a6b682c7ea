export { everyNth, layOver, spreadAperiodically, spreadEvenly, stillGround } from './chronophotograph.ts'
