import type { ModelId } from '../../investigation/index.ts'

/**
 * A model of motion along one component: position is a polynomial in time, and a velocity follows the
 * polynomial's derivative. Its parameters are position, velocity, … at t = 0, named once here.
 */
export interface Model {
  id: ModelId
  name: string
  /** When to use it, in a sentence. */
  use: string
  /** Degree of the position's polynomial. */
  degree: number
  /** Names of the position's derivatives at t = 0, from the position itself on ("x₀" stands for the component's own letter). */
  parameters: ModelParameter[]
  /** Which derivative is the physics that people fit for: 1 velocity, 2 acceleration. */
  reading: { derivative: number; name: string }
}

export interface ModelParameter {
  /** "s" is replaced by the component's letter. */
  symbol: string
  subscript: string
  name: string
}
