import { analyse } from '@apokinema/core/analysis'
import { edit, edits, type Investigation, inOrder } from '@apokinema/core/investigation'
import {
  bodyProposals,
  openAxes,
  proposedFits,
  steadiedBody,
  takeAxes,
  takeFit,
} from '@apokinema/core/proposals'
import { clockOf } from '@apokinema/core/scene'
import { describe, expect, it } from 'vitest'
import { readTruth } from './fill.ts'
import { measuredDocument, sampleIds } from './measuredSample.ts'

/** What is proposed from the marks of a careful hand, taken as it stands, against what the samples' motions are known to be. */

const uuid = (n: number) => `e1000000-0000-4000-8000-${String(n).padStart(12, '0')}`

/** Returns a sample's marks and scale with upright axes in the corner, as they are before anything is taken. */
function untouched(sample: string): Investigation {
  return edit(measuredDocument(sample, sampleIds(sample)), (draft) => {
    Object.assign(draft.axes[draft.mainAxes], { placed: false, tilt: 0, origin: { x: 0, y: 700, frame: 0 } })
  }).document
}

/** Takes the axes and all fits that are proposed for a body. */
function taken(before: Investigation) {
  const [[body]] = inOrder(before.bodies)
  const found = bodyProposals(steadiedBody(before, body)!, clockOf(before)!.seconds, before.outlierLimit)
  const axes = openAxes(before, body, found.axes)
  const lying = axes ? edit(before, takeAxes(axes)).document : before
  const fits = proposedFits(lying, body, found.stretches)
  const { document } = edit(lying, (draft) => {
    for (const [i, fit] of fits.entries())
      takeFit(body, fit, { graph: uuid(3 * i), stretch: uuid(3 * i + 1), fit: uuid(3 * i + 2) })(draft)
  })
  const fitted = fits.map((_, i) => analyse(document).fit(uuid(3 * i + 2))!)
  return { axes, fits, fitted, document, body, lying, found: found.stretches }
}

/** Within three of its standard errors of the truth, and within a share of it. */
function expectNear({ value, error }: { value: number; error: number }, truth: number, share = 0.01) {
  expect(Math.abs(value - truth)).toBeLessThan(3 * error)
  expect(Math.abs(value / truth - 1)).toBeLessThan(share)
}

describe('the proposed fit', () => {
  it('of the net float gives g', () => {
    const { fits, fitted, axes } = taken(untouched('net-float'))
    expect(axes).toBeNull()
    const flight = fits.findIndex(({ stretch }) => stretch.to - stretch.from > 40)
    expect(fits[flight]).toMatchObject({ quantity: 'y', model: 'uniform-acceleration' })
    expectNear(fitted[flight].fit!.reading, -readTruth('net-float').constants.g)
  })

  it('of the barrel gives its acceleration along the plank', () => {
    const { fits, fitted, axes } = taken(untouched('barrel-on-plank'))
    expect(axes).toMatchObject({ kind: 'line', along: 'x' })
    expect(fits).toMatchObject([{ quantity: 'x', model: 'uniform-acceleration' }])
    expectNear(fitted[0].fit!.reading, readTruth('barrel-on-plank').constants.acceleration)
  })

  it('of the sledge gives its deceleration', () => {
    const { fitted } = taken(untouched('fish-sledge'))
    expectNear(fitted[0].fit!.reading, -readTruth('fish-sledge').constants.deceleration)
  })

  it('of the pebble gives g', () => {
    const { fitted, fits } = taken(untouched('crane-pebble'))
    expect(fits).toMatchObject([{ quantity: 'y' }])
    expectNear(fitted[0].fit!.reading, -9.81)
  })

  it('of the lantern gives its angular frequency', () => {
    const { fitted, fits } = taken(untouched('paper-lantern'))
    expect(fits).toMatchObject([{ quantity: 'y', model: 'damped-swing' }])
    const omega = fitted[0].fit!.readings.find(({ key }) => key === 'omega')!
    expectNear(omega, readTruth('paper-lantern').constants.angularFrequency)
  })

  it('of the swing boat, about its pivot, gives the frequency of small swings', () => {
    const { fitted, fits, axes } = taken(untouched('swing-boat'))
    expect(axes?.kind).toBe('pivot')
    expect(fits).toMatchObject([{ quantity: 'omega', xQuantity: 'theta', model: 'pendulum-loop' }])
    const { g, length } = readTruth('swing-boat').constants
    expectNear(fitted[0].fit!.reading, Math.sqrt(g / length), 0.02)
  })

  it('of the bead gives its terminal speed', () => {
    const { fitted, fits } = taken(untouched('bead-in-syrup'))
    expect(fits).toMatchObject([{ quantity: 'y', model: 'uniform' }])
    expectNear(fitted[0].fit!.reading, -readTruth('bead-in-syrup').constants.terminalSpeed, 0.02)
  })

  it('of each flight of the fender gives g', () => {
    const { fitted } = taken(untouched('fender'))
    expect(fitted.length).toBe(4)
    for (const { fit } of fitted) expectNear(fit!.reading, -9.81, 0.02)
  })

  it('is not proposed once more after it is taken, nor where its stretch was refused or is outside the span', () => {
    const fresh = untouched('crane-pebble')
    const { document, body, fits } = taken(fresh)
    const [{ stretch }] = fits
    expect(proposedFits(document, body, [stretch])).toEqual([])
    const { from, to } = stretch
    const refused = edit(fresh, edits.refuse(uuid(90), { kind: 'stretch', body, from, to })).document
    expect(proposedFits(refused, body, [stretch])).toEqual([])
    const early = edit(fresh, edits.setSpan({ last: from + 4 })).document
    expect(proposedFits(early, body, [stretch])).toEqual([])
    const shorter = edit(fresh, edits.setSpan({ last: to - 20 })).document
    expect(proposedFits(shorter, body, [stretch])[0].stretch.to).toBe(to - 20)
  })

  it('of a part of a stretch is neither proposed again once that part is taken, nor once it is refused', () => {
    const fresh = untouched('swing-boat')
    const { document, body, fits, found, lying } = taken(fresh)
    const [{ stretch }] = fits
    expect(stretch.to).toBeLessThan(found[0].to)
    expect(proposedFits(document, body, found)).toEqual([])
    const { from, to } = stretch
    const refused = edit(lying, edits.refuse(uuid(90), { kind: 'stretch', body, from, to })).document
    expect(proposedFits(refused, body, found)).toEqual([])
  })
})
