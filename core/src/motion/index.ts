export { threePointSlope } from './derivative.ts'
export { applyMap, type LinearMap, pickRows, rowProduct } from './linearMap.ts'
export { type Column, clockOf, type MotionTable, motionTable, sceneOf } from './motionTable.ts'
export { type LengthUnit, QUANTITIES, type Quantity, quantityUnit } from './quantities.ts'
