export {
  type Calculated,
  calculateAll,
  calculationTrouble,
  nameTex,
  type ShownCalculation,
} from './calculate.ts'
export { type KnownValue, knownValues, type StretchFits } from './known.ts'
