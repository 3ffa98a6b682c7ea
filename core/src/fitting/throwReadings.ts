import { rounded } from '../units/index.ts'
import type { ColumnFit, Reading } from './fitResult.ts'
import { numberTex, sum, term } from './models/index.ts'

/** A motion along both axes: place, velocity and acceleration of each at some time. */
interface Flight {
  place: [number, number]
  velocity: [number, number]
  acceleration: [number, number]
}

/**
 * Returns what a throw says beyond its single coordinates, where x and y of a body are fitted together by motions that are
 * uniform or uniformly accelerated: speed and angle at the first point, the apex above it, and the flight back to its
 * height. Up is against the acceleration, and angles are against what is level to it. Empty where the two are
 * no such motion.
 */
export function throwReadings(fits: readonly ColumnFit[]): Reading[] {
  const x = fits.findIndex(({ quantity }) => quantity.id === 'x')
  const y = fits.findIndex(({ quantity }) => quantity.id === 'y')
  const isThrow = [x, y].every(
    (m) => m >= 0 && ['uniform', 'uniform-acceleration'].includes(fits[m].model.id),
  )
  if (!isThrow || fits.length !== 2 || fits.every(({ model }) => model.id === 'uniform')) return []
  const [fit] = fits
  const { members } = fit.solution
  const from = Math.min(...fits.map((one) => one.from))
  const isCoefficients = fits[x].law.parameters[0].symbol === 'c'
  const flightOf = (parameters: ArrayLike<number>): Flight => {
    const along = [x, y].map((m) => {
      const [place, velocity, third = 0] = members[m].shownParameters(parameters)
      const acceleration = isCoefficients ? 2 * third : third
      return [
        place + velocity * from + (acceleration * from * from) / 2,
        velocity + acceleration * from,
        acceleration,
      ]
    })
    const pair = (k: number): [number, number] => [along[0][k], along[1][k]]
    return { place: pair(0), velocity: pair(1), acceleration: pair(2) }
  }
  const { unit } = fits[x]
  const reading = (
    key: string,
    name: string,
    [symbol, subscript]: [string, string],
    unitOf: string,
    of: (flight: Flight & { rise: number; level: number; pull: number }) => number,
  ): Reading[] => {
    const propagation = fit.estimate((parameters) => {
      const flight = flightOf(parameters)
      const [[ax, ay], [vx, vy]] = [flight.acceleration, flight.velocity]
      const pull = Math.hypot(ax, ay)
      const rise = -(vx * ax + vy * ay) / pull
      return of({ ...flight, rise, level: Math.abs(vx * ay - vy * ax) / pull, pull })
    }, unitOf)
    return Number.isFinite(propagation.value) ? [{ ...propagation, key, name, symbol, subscript }] : []
  }
  return [
    // Along one axis only it is that axis' own.
    ...(fits.every(({ model }) => model.id === 'uniform-acceleration')
      ? reading('throw-pull', 'Acceleration, size', ['a', ''], `${unit}/s²`, ({ pull }) => pull)
      : []),
    ...reading('throw-speed', 'Launch speed', ['v', '0'], `${unit}/s`, ({ velocity }) =>
      Math.hypot(...velocity),
    ),
    ...reading(
      'throw-angle',
      'Launch angle',
      ['α', ''],
      '°',
      ({ rise, level }) => (Math.atan2(rise, level) * 180) / Math.PI,
    ),
    ...reading('throw-apex', 'Apex above the start', ['h', ''], unit, ({ rise, pull }) =>
      rise > 0 ? rise ** 2 / (2 * pull) : Number.NaN,
    ),
    ...reading('throw-range', 'Range at that height', ['R', ''], unit, ({ rise, level, pull }) =>
      rise > 0 ? (2 * rise * level) / pull : Number.NaN,
    ),
    ...reading('throw-time', 'Time of flight', ['T', ''], 's', ({ rise, pull }) =>
      rise > 0 ? (2 * rise) / pull : Number.NaN,
    ),
  ]
}

/** TeX of the path y(x) with its numbers, where x is uniform; null where the two fits are no such throw. */
export function throwPath(fits: readonly ColumnFit[]): string | null {
  const x = fits.findIndex(({ quantity, model }) => quantity.id === 'x' && model.id === 'uniform')
  const y = fits.findIndex(
    ({ quantity, model }) => quantity.id === 'y' && model.id === 'uniform-acceleration',
  )
  if (x < 0 || y < 0 || fits[y].law.parameters[0].symbol === 'c') return null
  const { members } = fits[0].solution
  const coefficient = (k: number) => {
    const { value, error } = fits[0].estimate((parameters) => {
      const [x0, vx] = members[x].shownParameters(parameters)
      const [y0, vy, ay] = members[y].shownParameters(parameters)
      const half = ay / (2 * vx * vx)
      return [y0 - (vy * x0) / vx + half * x0 * x0, vy / vx - 2 * half * x0, half][k]
    }, '')
    return numberTex(rounded(value, error))
  }
  return `y = ${sum(coefficient(0), term(coefficient(1), 'x'), term(coefficient(2), 'x^{2}'))}`
}
