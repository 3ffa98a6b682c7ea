import { analyse } from '@apokinema/core/analysis'
import { calculateAll, knownValues } from '@apokinema/core/calculations'
import {
  type ColumnFit,
  type FitSettings,
  fitColumn,
  fitColumns,
  fitPath,
  type Reading,
} from '@apokinema/core/fitting'
import { edit, edits, type Investigation } from '@apokinema/core/investigation'
import { describe, expect, it } from 'vitest'
import { readTruth } from './fill.ts'
import { measuredDocument, sampleIds } from './measuredSample.ts'

/** What the samples' motions are known to be, read off fits to marks that a careful hand has set. */

/** Returns a sample that has been measured, ready for its tables. */
function measured(
  sample: string,
  tilt = 0,
): { investigation: Investigation; ids: ReturnType<typeof sampleIds> } {
  const ids = sampleIds(sample)
  return { investigation: measuredDocument(sample, ids, tilt), ids }
}

/** Returns the frames of a sample's first body in some phase. */
function phase(sample: string, name: string): { from: number; to: number } {
  const frames = readTruth(sample)
    .bodies[0].frames.filter((one) => one.phase === name)
    .map(({ frame }) => frame)
  return { from: frames[0], to: frames[frames.length - 1] }
}

function fitted(
  sample: string,
  quantity: string,
  settings: FitSettings,
  range = { from: 0, to: 1e6 },
  tilt = 0,
): ColumnFit {
  const { investigation, ids } = measured(sample, tilt)
  return fitColumn(analyse(investigation).table(ids.bodies[0].body), quantity, range, settings)
}

const reading = ({ readings }: Pick<ColumnFit, 'readings'>, key: string): Reading =>
  readings.find((one) => one.key === key)!

/** Within three of its standard errors of the truth, and within a share of it. */
function expectNear({ value, error }: Reading, truth: number, share = 0.01) {
  expect(Math.abs(value - truth)).toBeLessThan(3 * error)
  expect(Math.abs(value / truth - 1)).toBeLessThan(share)
}

describe('read off the samples', () => {
  it('g, from the net float’s throw with x and y together', () => {
    const { investigation, ids } = measured('net-float')
    const table = analyse(investigation).table(ids.bodies[0].body)
    const fits = fitColumns(
      [
        { table, quantity: 'y', model: 'uniform-acceleration' },
        { table, quantity: 'x', model: 'uniform' },
      ],
      phase('net-float', 'flying'),
      { model: 'uniform-acceleration' },
    )
    expectNear(fits[0].reading, -readTruth('net-float').constants.g)
    expectNear(reading(fits[1], 'velocity'), readTruth('net-float').constants.launchX)
  })

  it('g, from the slow-motion pebble', () => {
    const fit = fitted(
      'crane-pebble',
      'y',
      { model: 'uniform-acceleration' },
      phase('crane-pebble', 'falling'),
    )
    expectNear(fit.reading, -9.81)
  })

  it('angular frequency and decay of the lantern', () => {
    const fit = fitted('paper-lantern', 'y', { model: 'damped-swing' }, phase('paper-lantern', 'bobbing'))
    const { angularFrequency, decay } = readTruth('paper-lantern').constants
    expectNear(reading(fit, 'omega'), angularFrequency)
    expectNear(reading(fit, 'decay'), 1 / decay)
    expectNear(reading(fit, 'quality'), angularFrequency / decay / 2)
  })

  it('acceleration of the barrel, along its plank', () => {
    const { slope, acceleration } = readTruth('barrel-on-plank').constants
    const range = phase('barrel-on-plank', 'rolling')
    const fit = fitted('barrel-on-plank', 'x', { model: 'uniform-acceleration' }, range, -slope)
    expectNear(fit.reading, acceleration)
  })

  it('deceleration of the sledge', () => {
    const fit = fitted('fish-sledge', 'x', { model: 'uniform-acceleration' }, phase('fish-sledge', 'sliding'))
    expectNear(fit.reading, -readTruth('fish-sledge').constants.deceleration)
  })

  it.each(['y', 'vy'])('terminal speed of the bead, from %s, the release within the stretch', (quantity) => {
    const fit = fitted('bead-in-syrup', quantity, { model: 'terminal-from-rest' })
    const { terminalSpeed, releaseTime } = readTruth('bead-in-syrup').constants
    expectNear(fit.reading, -terminalSpeed, 0.02)
    const release = reading(fit, 'release')
    expect(Math.abs(release.value - releaseTime)).toBeLessThan(3 * release.error)
  })

  it('frequency of the swing boat, from its phase plot', () => {
    const { investigation, ids } = measured('swing-boat', -Math.PI / 2)
    const table = analyse(investigation).table(ids.bodies[0].body, {
      derivation: { method: 'cubic', reach: 3, weighted: false },
    })
    // Once from side to side: it loses a fifteenth of its amplitude by then.
    const { from } = phase('swing-boat', 'swinging')
    const range = { from, to: from + 48 }
    const { g, length } = readTruth('swing-boat').constants
    expectNear(
      fitPath(table, 'omega', 'theta', range, { model: 'pendulum-loop' }).reading,
      Math.sqrt(g / length),
    )
    // At so large an amplitude the semi-axes of the ellipse tell a lower one: about 2ω₀·sin(θ̂/2)/θ̂.
    const { amplitude } = readTruth('swing-boat').constants
    const lower = (2 * Math.sqrt(g / length) * Math.sin(amplitude / 2)) / amplitude
    const ellipse = fitPath(table, 'omega', 'theta', range, { model: 'ellipse' })
    expect(Math.abs(ellipse.reading.value / lower - 1)).toBeLessThan(0.03)
  })

  it('restitution of the fender', () => {
    const sample = 'fender'
    const { investigation, ids } = measured(sample)
    const [{ body }] = ids.bodies
    const { firstHit, secondHit, thirdHit, restitution, g, caughtTime, releaseTime } =
      readTruth(sample).constants
    const frameAfter = (time: number) => Math.ceil(60 * time)
    const { document } = edit(investigation, (draft) => {
      for (const hit of [firstHit, secondHit, thirdHit]) draft.bodies[body].breaks[frameAfter(hit)] = 'break'
    })
    const range = { from: frameAfter(releaseTime) + 1, to: frameAfter(caughtTime) - 2 }
    const fit = fitColumn(analyse(document).table(body), 'y', range, { model: 'bounces' })
    expectNear(reading(fit, 'restitution'), restitution, 0.02)
    expectNear(reading(fit, 'acceleration'), -g)
    expectNear(reading(fit, 'bounce-1'), firstHit)
  })

  it('momentum before and after of the ice blocks, as a calculation', () => {
    const sample = 'ice-blocks'
    const truth = readTruth(sample)
    const { investigation, ids } = measured(sample)
    const { massLarge, massSmall, velocityLargeBefore, velocitySmallBefore } = truth.constants
    const { document } = edit(investigation, (draft) => {
      ids.bodies.forEach(({ body }, i) => {
        draft.bodies[body].mass = { value: [massLarge, massSmall][i], error: 0.002 }
        draft.bodies[body].name = ['large', 'small'][i]
      })
      const line = (symbol: string, expression: string) => ({
        symbol,
        name: '',
        expression,
        unit: 'kg*m/s',
        against: null,
      })
      edits.setCalculation(
        'c0000000-0000-4000-8000-000000000001',
        line('before', 'm_large*v_end_1 + m_small*v_end_2'),
      )(draft)
      edits.setCalculation(
        'c0000000-0000-4000-8000-000000000002',
        line('after', 'm_large*v_start_3 + m_small*v_start_4'),
      )(draft)
    })
    const before = phase(sample, 'before')
    const after = phase(sample, 'after')
    const fits = [before, after].flatMap((range) =>
      ids.bodies.map(({ body }) =>
        fitColumn(analyse(document).table(body), 'x', range, { model: 'uniform-acceleration' }),
      ),
    )
    const known = knownValues(
      document,
      analyse(document).numbers(),
      fits.map((fit, i) => ({ number: i + 1, fits: [[fit]] })),
    )
    const [one, other] = calculateAll(document, known).map(({ result }) => result!)
    const momentum = massLarge * velocityLargeBefore + massSmall * velocitySmallBefore
    for (const { value, error } of [one, other]) {
      expect(Math.abs(value / momentum - 1)).toBeLessThan(0.01)
      // The wet steel takes 0.002 of it in the frame between the last mark and the meeting.
      expect(Math.abs(value - momentum)).toBeLessThan(3 * error + 0.004)
    }
  })
})
