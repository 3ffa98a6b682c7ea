export {
  type Calculated,
  calculateAll,
  calculationProblem,
  nameTex,
  type ShownCalculation,
  sensitivityOfSum,
} from './calculate.ts'
export { fitReadings, type KnownValue, knownValues, type NumberedFits, scaledSensitivity } from './known.ts'
