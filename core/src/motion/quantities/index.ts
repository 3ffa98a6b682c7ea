import type { Body, QuantityId } from '../../investigation/index.ts'
import { accelerationSize } from './accelerationSize.ts'
import { accelerationX } from './accelerationX.ts'
import { accelerationY } from './accelerationY.ts'
import { angleAboutOrigin } from './angleAboutOrigin.ts'
import { angularVelocity } from './angularVelocity.ts'
import { bearing } from './bearing.ts'
import { centreOfMassX } from './centreOfMassX.ts'
import { centreOfMassY } from './centreOfMassY.ts'
import { centreVelocityX } from './centreVelocityX.ts'
import { centreVelocityY } from './centreVelocityY.ts'
import { centripetalAcceleration } from './centripetalAcceleration.ts'
import { displacement } from './displacement.ts'
import { distanceBetween } from './distanceBetween.ts'
import { distanceFromOrigin } from './distanceFromOrigin.ts'
import { feltAcceleration } from './feltAcceleration.ts'
import { heading } from './heading.ts'
import { kineticEnergy } from './kineticEnergy.ts'
import { momentumSize } from './momentumSize.ts'
import { momentumX } from './momentumX.ts'
import { momentumY } from './momentumY.ts'
import { orientation } from './orientation.ts'
import { pathLength } from './pathLength.ts'
import { positionX } from './positionX.ts'
import { positionY } from './positionY.ts'
import { potentialEnergy } from './potentialEnergy.ts'
import type { PositionQuantity, Quantity } from './quantity.ts'
import { speed } from './speed.ts'
import { spin } from './spin.ts'
import { tangentialAcceleration } from './tangentialAcceleration.ts'
import { totalEnergy } from './totalEnergy.ts'
import { totalKineticEnergy } from './totalKineticEnergy.ts'
import { totalMomentumSize } from './totalMomentumSize.ts'
import { totalMomentumX } from './totalMomentumX.ts'
import { totalMomentumY } from './totalMomentumY.ts'
import { velocityX } from './velocityX.ts'
import { velocityY } from './velocityY.ts'

export { type PathStep, pathThrough } from './pathLength.ts'
export type {
  BodyConstants,
  CustomDefinition,
  DerivativeQuantity,
  DerivedQuantity,
  Linearised,
  MultiBodyQuantity,
  Need,
  PathQuantity,
  PositionQuantity,
  Quantity,
  QuantityInfo,
} from './quantity.ts'
export { dimension } from './quantity.ts'

/** Every quantity that the product knows by itself, in the order in which they are listed, in groups. */
export const QUANTITY_GROUPS: { name: string; quantities: Quantity[] }[] = [
  {
    name: 'Position',
    quantities: [
      positionX,
      positionY,
      distanceFromOrigin,
      displacement,
      pathLength,
      angleAboutOrigin,
      orientation,
    ],
  },
  { name: 'Velocity', quantities: [velocityX, velocityY, speed, heading, angularVelocity, spin] },
  {
    name: 'Acceleration',
    quantities: [
      accelerationX,
      accelerationY,
      accelerationSize,
      tangentialAcceleration,
      centripetalAcceleration,
      feltAcceleration,
    ],
  },
  { name: 'Momentum', quantities: [momentumX, momentumY, momentumSize] },
  { name: 'Energy', quantities: [kineticEnergy, potentialEnergy, totalEnergy] },
  {
    name: 'All bodies together',
    quantities: [
      centreOfMassX,
      centreOfMassY,
      centreVelocityX,
      centreVelocityY,
      totalMomentumX,
      totalMomentumY,
      totalMomentumSize,
      totalKineticEnergy,
    ],
  },
  { name: 'To another body', quantities: [distanceBetween, bearing] },
]

/** The same by id. */
export const QUANTITIES = Object.fromEntries(
  QUANTITY_GROUPS.flatMap(({ quantities }) => quantities).map((quantity) => [quantity.id, quantity]),
) as Record<QuantityId, Quantity>

/** Returns the quantities that a body can have: rotation requires second points, relative quantities several bodies. */
export function quantitiesOf(body: Pick<Body, 'second'>, bodies: number): Quantity[] {
  const turns = Object.keys(body.second).length > 0
  return Object.values(QUANTITIES).filter(
    ({ kind, needs }) => (turns || !needs.includes('second')) && (bodies > 1 || kind !== 'multiBody'),
  )
}

/** Returns the position that a quantity is, or is a derivative of, and the order of the derivative; null for any other. */
export function alongLine(id: string): { place: PositionQuantity; order: 0 | 1 | 2 } | null {
  const quantity = QUANTITIES[id as QuantityId] as Quantity | undefined
  if (quantity?.kind === 'position') return { place: quantity, order: 0 }
  if (quantity?.kind === 'derivative')
    return { place: QUANTITIES[quantity.of] as PositionQuantity, order: quantity.order }
  return null
}
