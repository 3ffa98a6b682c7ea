import type { Derivation, DerivativeId } from '@apokinema/core/investigation'

type DerivationSentences = Record<DerivativeId, (derivation: Derivation) => string>

const windowOf = ({ reach }: Derivation) => `${2 * reach + 1} points`

const NAMES: DerivationSentences = {
  'three-point': () => 'three neighbouring points',
  parabola: (derivation) => `parabola over ${windowOf(derivation)}${derivation.weighted ? ', weighted' : ''}`,
  cubic: (derivation) => `cubic over ${windowOf(derivation)}${derivation.weighted ? ', weighted' : ''}`,
  spline: () => 'smoothing spline',
}

/** Returns the name of a method of derivation, with its window. */
export const derivationName = (derivation: Derivation): string => NAMES[derivation.method](derivation)

const atTheEnds = ({ weighted }: Derivation) =>
  `At the ends, the nearest points are used, with a larger error.${weighted ? ' Nearer points count more.' : ''}`

const EXPLANATIONS: DerivationSentences = {
  'three-point': () =>
    'Velocity and acceleration come from the parabola through three neighbouring points: its slope at the middle point, and twice its quadratic coefficient. The end points have neither.',
  parabola: (derivation) =>
    `Velocity and acceleration come from the least-squares parabola over ${windowOf(derivation)}. ${atTheEnds(derivation)}`,
  cubic: (derivation) =>
    `Velocity and acceleration come from the least-squares cubic over ${windowOf(derivation)}, which follows a curve more closely than a parabola. ${atTheEnds(derivation)}`,
  spline: () =>
    'Velocity and acceleration come from a smoothing spline of the fifth degree through all marks. It is as smooth as predicts each mark from the others best.',
}

/** Returns how a method derives velocity and acceleration, with its window. */
export const derivationText = (derivation: Derivation): string => EXPLANATIONS[derivation.method](derivation)
