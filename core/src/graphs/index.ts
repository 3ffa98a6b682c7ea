export { bestOffset, type TimeSeries } from './bestOffset.ts'
export { type CanvasContext, CanvasPen } from './canvasPen.ts'
export {
  type AxisDescription,
  describeGraph,
  type GraphDescription,
  lowered,
  type Plotted,
  quantityInfo,
  type SeriesDescription,
} from './describe.ts'
export {
  drawGraph,
  type GraphCurve,
  type GraphExtras,
  type GraphStyle,
  type GraphWords,
  layoutOf,
  type Pen,
} from './draw.ts'
export { draggedLimits, equalised, type Limits, limitsOf, zoomedLimits } from './limits.ts'
export { mainDirection } from './mainDirection.ts'
export { DASHES, MARKER_RADIUS, markerFill, markerPath, piecesOf } from './marks.ts'
export { SvgPen } from './svgPen.ts'
export { type Slope, slopesOf, slopeUnit } from './tangent.ts'
export { ticksOf } from './ticks.ts'
export { TRANSFORMS, type Transform } from './transforms.ts'
