import type { ModelId } from '../../investigation/index.ts'
import { bounces } from './bounces.ts'
import { changingAcceleration } from './changingAcceleration.ts'
import { dampedSwing } from './dampedSwing.ts'
import { ellipse } from './ellipse.ts'
import { exponential } from './exponential.ts'
import { freeForm } from './freeForm.ts'
import { gaussian } from './gaussian.ts'
import { kink } from './kink.ts'
import { logistic } from './logistic.ts'
import type { Model } from './model.ts'
import { pendulumLoop } from './pendulumLoop.ts'
import { power } from './power.ts'
import { proportional } from './proportional.ts'
import { quadraticDrag } from './quadraticDrag.ts'
import { reciprocal } from './reciprocal.ts'
import { rest } from './rest.ts'
import { settling } from './settling.ts'
import { squareRoot } from './squareRoot.ts'
import { swing } from './swing.ts'
import { terminalFromRest } from './terminalFromRest.ts'
import { terminalSpeed } from './terminalSpeed.ts'
import { uniform } from './uniform.ts'
import { uniformAcceleration } from './uniformAcceleration.ts'
import { uniformPieces } from './uniformPieces.ts'

export { curveThrough } from './curveThrough.ts'
export { numberTex, sum, symbolTex, term } from './formula.ts'
export { type FreeForm, readFreeForm } from './freeForm.ts'
export {
  AS_KNOWN,
  type Beginning,
  type Exponents,
  type Law,
  type LawParameter,
  type LawReading,
  type LoopLaw,
  type LoopSetting,
  MODEL_GROUPS,
  type Model,
  type ModelGroup,
  PLAIN,
  type Setting,
  type ShortStretch,
} from './model.ts'

/** Every model, in the order in which they are offered. */
export const MODELS: Record<ModelId, Model> = {
  rest,
  uniform,
  proportional,
  'uniform-acceleration': uniformAcceleration,
  'changing-acceleration': changingAcceleration,
  'terminal-from-rest': terminalFromRest,
  'terminal-speed': terminalSpeed,
  'quadratic-drag': quadraticDrag,
  settling,
  exponential,
  logistic,
  swing,
  'damped-swing': dampedSwing,
  ellipse,
  'pendulum-loop': pendulumLoop,
  kink,
  pieces: uniformPieces,
  bounces,
  power,
  'square-root': squareRoot,
  reciprocal,
  gaussian,
  'free-form': freeForm,
}
