export { type Dimension, type LengthUnit, perSecond, unitOf } from './dimension.ts'
export { angleMeasurement, degrees, fixed, measurement, rounded, significant, withUnit } from './format.ts'
export {
  LENGTH_NAMES,
  type LengthName,
  metresIn,
  type ParsedLength,
  parseLength,
  parseLengthRange,
} from './length.ts'
export { type Mass, parseMass, shownMass } from './mass.ts'
export { type ParsedUnit, parseUnit, unitFactor } from './parseUnit.ts'
export { metresWithin, type Shown, shownIn } from './shown.ts'
