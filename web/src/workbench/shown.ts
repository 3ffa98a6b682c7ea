import { type Body, type Investigation, inOrder, type Landmark } from '@apokinema/core/investigation'

/** Returns the body that is worked on: the active one, or the first. */
export function activeBody(investigation: Investigation, chosen: string | null): string | null {
  if (chosen && investigation.bodies[chosen]) return chosen
  return inOrder(investigation.bodies)[0]?.[0] ?? null
}

/** Bodies that the strip has lanes for: at most three neighbours in the list, the active one among them. */
export function shownBodies(investigation: Investigation, active: string | null): [string, Body][] {
  const bodies = inOrder(investigation.bodies)
  const at = bodies.findIndex(([id]) => id === active)
  const from = Math.max(0, Math.min(at - 1, bodies.length - 3))
  return bodies.slice(from, from + 3)
}

/** Landmarks that the strip has lanes for: the first three, where the camera moved. */
export function shownLandmarks({ camera }: Investigation): [string, Landmark][] {
  return camera.motion === 'still' ? [] : inOrder(camera.landmarks).slice(0, 3)
}
