export { analyse } from './analyse.ts'
export { Analysis, type MotionTableSettings } from './analysis.ts'
export {
  explain,
  type Question,
  type Suspect,
  type SuspectReason,
  type SuspectSize,
} from './explain.ts'
export type { GraphFit } from './graphFits.ts'
export { readoutEffect } from './readoutEffect.ts'
