export {
  type Calculated,
  calculateAll,
  calculationProblem,
  nameTex,
  type ShownCalculation,
} from './calculate.ts'
export { type KnownValue, knownValues, type StretchFits } from './known.ts'
