export { bestOffset, type TimeSeries } from './bestOffset.ts'
export {
  type AxisDescription,
  describeGraph,
  type GraphDescription,
  lowered,
  type Plotted,
  type SeriesDescription,
  type SeriesNote,
} from './describe.ts'
export { draggedLimits, equalised, type Limits, limitsOf, zoomedLimits } from './limits.ts'
export { mainDirection } from './mainDirection.ts'
export { piecesOf } from './pieces.ts'
export { type Slope, slopesOf, slopeUnit } from './tangent.ts'
export { TRANSFORMS, type Transform } from './transforms.ts'
