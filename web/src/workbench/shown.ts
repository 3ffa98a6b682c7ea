import { type Body, type Investigation, inOrder, type Landmark } from '@apokinema/core/investigation'

/** Returns the active body, or the first. */
export function activeBody(investigation: Investigation, chosen: string | null): string | null {
  if (chosen && investigation.bodies[chosen]) return chosen
  return inOrder(investigation.bodies)[0]?.[0] ?? null
}

/** Returns the bodies with lanes in the strip: at most three neighbours in the list, including the active one. */
export function shownBodies(investigation: Investigation, active: string | null): [string, Body][] {
  const bodies = inOrder(investigation.bodies)
  const at = bodies.findIndex(([id]) => id === active)
  const from = Math.max(0, Math.min(at - 1, bodies.length - 3))
  return bodies.slice(from, from + 3)
}

/** Returns the landmarks with lanes in the strip: the first three, if the camera moved. */
export function shownLandmarks({ camera }: Investigation): [string, Landmark][] {
  return camera.motion === 'still' ? [] : inOrder(camera.landmarks).slice(0, 3)
}
