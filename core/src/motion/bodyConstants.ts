import { applied } from '../geometry/index.ts'
import { axesOf, type Body, type Investigation } from '../investigation/index.ts'
import type { InvestigationScene } from '../scene/index.ts'
import type { BodyConstants } from './quantities/index.ts'

const STRAIGHT_DOWN = -Math.PI / 2

/** Returns the constants of a body in a scene: mass, free fall, direction of gravity, chosen direction. */
export function bodyConstants(
  investigation: Investigation,
  scene: InvestigationScene,
  { mass }: Body,
  number: number,
): BodyConstants {
  const { gravity, freeFall, direction } = investigation
  return {
    number,
    mass: mass?.value ?? Number.NaN,
    massError: mass?.error ?? Number.NaN,
    g: scene.length === 'px' ? Number.NaN : freeFall.value,
    gError: freeFall.error,
    down: downIn(investigation, scene, gravity?.direction ?? STRAIGHT_DOWN),
    along: { x: Math.cos(direction), y: Math.sin(direction) },
  }
}

/** Returns the unit vector of gravity in the axes, from its direction (rad) in the picture at the axes' origin. */
function downIn(investigation: Investigation, scene: InvestigationScene, direction: number) {
  const { origin } = axesOf(investigation)
  const transform = scene.at(origin.frame)
  if (!transform) return { x: 0, y: -1 }
  const { x, y } = applied(transform.jacobian(origin), { x: Math.cos(direction), y: -Math.sin(direction) })
  const size = Math.hypot(x, y)
  return { x: x / size, y: y / size }
}
