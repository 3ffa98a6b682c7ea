export { directionInPicture, distance, midpoint, type Point, wrapAngle } from './points.ts'
export { type ReferenceLength, referenceAngle, relativeScaleError, type Scale, scaleOf } from './scale.ts'
export { type Axes, type SceneTransform, sceneTransform } from './scene.ts'
