export { degrees, fixed, measurement, significant, withUnit } from './format.ts'
export { type ParsedLength, parseLength } from './length.ts'
