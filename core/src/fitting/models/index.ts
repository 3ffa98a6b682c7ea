import type { ModelId } from '../../investigation/index.ts'
import type { Model } from './model.ts'
import { uniform } from './uniform.ts'
import { uniformAcceleration } from './uniformAcceleration.ts'

export type { Model, ModelParameter } from './model.ts'

/** Every model, in the order in which they are offered. */
export const MODELS: Record<ModelId, Model> = {
  uniform,
  'uniform-acceleration': uniformAcceleration,
}
