import { type QuantityId, TIME } from '@apokinema/core/investigation'
import type { QuantityInfo } from '@apokinema/core/motion'

const DEFINITIONS: Record<QuantityId | typeof TIME, string> = {
  [TIME]: 'Real time since time zero.',
  x: 'Distance of the body from the origin along the x axis.',
  y: 'Distance of the body from the origin along the y axis.',
  r: '√(x² + y²).',
  s: 'Distance from the origin along the chosen direction: x cos α + y sin α.',
  path: 'Distance travelled since the first mark. The length that random errors of the marks add is subtracted.',
  theta:
    'Angle of the line from the origin to the body, from +x towards +y. It keeps counting after a full turn.',
  turn: 'Angle of the line from the body’s point to its second point. It keeps counting after a full turn.',
  vx: 'Rate of change of the position along x.',
  vy: 'Rate of change of the position along y.',
  v: '√(vₓ² + v_y²).',
  heading: 'Angle of the velocity, from +x towards +y. No value where the speed can’t be told from 0.',
  omega: 'Rate of change of the angle about the origin.',
  spin: 'Rate of change of the orientation.',
  ax: 'Rate of change of the velocity along x.',
  ay: 'Rate of change of the velocity along y.',
  a: '√(aₓ² + a_y²).',
  at: 'Rate of change of the speed: the acceleration along the direction of motion. No value where the speed can’t be told from 0.',
  ac: 'Acceleration perpendicular to the direction of motion, which bends the path. No value where the speed can’t be told from 0.',
  felt: 'Acceleration that the body feels, as a multiple of g: |a − g|/g. It is 1 at rest and 0 in free fall.',
  px: 'm·vₓ.',
  py: 'm·v_y.',
  p: 'm·v.',
  Ek: '½m·v².',
  Ep: 'm·g·h. The height h above the origin is measured against the direction of gravity, whatever the axes.',
  E: 'Kinetic energy plus potential energy.',
  cmx: 'Mean position of the bodies along x, weighted by mass: Σmᵢxᵢ / Σmᵢ.',
  cmy: 'Mean position of the bodies along y, weighted by mass: Σmᵢyᵢ / Σmᵢ.',
  cmvx: 'Σmᵢvₓᵢ / Σmᵢ.',
  cmvy: 'Σmᵢv_yᵢ / Σmᵢ.',
  sumPx: 'Σmᵢvₓᵢ of all bodies.',
  sumPy: 'Σmᵢv_yᵢ of all bodies.',
  sumP: '|Σmᵢvᵢ| of all bodies.',
  sumEk: 'Σ½mᵢvᵢ² of all bodies.',
  d: 'Distance between the two bodies.',
  bearing: 'Angle of the line to the other body, from +x towards +y.',
}

/** Returns the definition of a quantity; the expression of a custom quantity. */
export function definitionText({ id, expression }: Pick<QuantityInfo, 'id' | 'expression'>): string {
  return expression ?? DEFINITIONS[id as QuantityId | typeof TIME] ?? ''
}
