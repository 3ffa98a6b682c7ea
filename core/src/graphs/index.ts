export {
  type AxisDescription,
  describeGraph,
  type GraphDescription,
  type GraphPoint,
  lowered,
  quantityInfo,
  type SeriesDescription,
} from './describe.ts'
export { equalised, type Limits, limitsOf } from './limits.ts'
export { mainDirection } from './mainDirection.ts'
export { TRANSFORMS, type Transform } from './transforms.ts'
