import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { axesOf, edit, edits, type Investigation, type Mutator } from '../investigation/index.ts'
import type { CalibrationParameter } from '../scene/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'

const ID = '00000000-0000-4000-8000-0000000000ff'

/** Derivatives by the calibration against the differences that changed calibrations make. */

const base: Mutator[] = [
  edits.setAxes({ origin: { x: 138, y: 610, frame: 0 }, tilt: 0.3 }),
  edits.setGravity({ direction: -1.4, error: 0.01 }),
  edits.changeBody(THROWN.body, { mass: { value: 0.2, error: 0 } }),
]
const settings: Record<string, Mutator[]> = {
  plain: [],
  'x counts the other way': [edits.setAxes({ turnedX: true })],
  'a plane that is seen at an angle': [
    edits.setPlaneCorners([
      { x: 200, y: 650, frame: 0 },
      { x: 1000, y: 620, frame: 0 },
      { x: 930, y: 150, frame: 0 },
      { x: 260, y: 100, frame: 0 },
    ]),
    edits.changePlane({ width: 3, height: 2 }),
  ],
  'a quantity of one’s own': [
    (draft) => {
      draft.quantities[ID] = { order: 0, symbol: 'q', name: 'own', unit: '', expression: 'x * vy' }
    },
  ],
}

/** A change of each parameter by a small amount either way. */
const CHANGES: Partial<Record<CalibrationParameter, { by: number; change: (by: number) => Mutator }>> = {
  length: {
    by: 1e-5,
    change: (by) => (draft) => {
      for (const reference of Object.values(draft.references)) reference.length! *= 1 + by
      if (draft.plane) for (const side of ['width', 'height'] as const) draft.plane[side]! *= 1 + by
    },
  },
  originX: {
    by: 1e-3,
    change: (by) => (draft) => {
      axesOf(draft).origin.x += by
    },
  },
  originY: {
    by: 1e-3,
    change: (by) => (draft) => {
      axesOf(draft).origin.y += by
    },
  },
  tilt: {
    by: 1e-5,
    change: (by) => (draft) => {
      axesOf(draft).tilt += by
    },
  },
}

const tableOf = (document: Investigation, mutator: Mutator) =>
  analyse(edit(document, mutator).document).table(THROWN.body)

describe.each(Object.entries(settings))('sensitivities to the calibration: %s', (name, mutators) => {
  const document = [...base, ...mutators].reduce(
    (made, mutator) => edit(made, mutator).document,
    thrown({ frames: 20 }),
  )
  const quantities = ['x', 'y', 'r', 'vx', 'vy', 'v', 'ax', 'ay', 'Ep', 's']
  // Where a plane is seen at an angle, “down” in it depends on the place in the picture as well, which is not counted.
  if (name.startsWith('a plane')) quantities.splice(quantities.indexOf('Ep'), 1)
  if (name === 'a quantity of one’s own') quantities.push(ID)

  it.each(Object.entries(CHANGES))('to %s are what a small change makes', (parameter, { by, change }) => {
    const [on, back] = [tableOf(document, change(by)), tableOf(document, change(-by))]
    const table = analyse(document).table(THROWN.body)
    for (const quantity of quantities) {
      const column = table.column(quantity)
      expect(column.rows.length).toBeGreaterThan(10)
      const found = column.calibrationSensitivities[parameter as CalibrationParameter]()
      const most = (values: Float64Array) => Math.max(...column.rows.map((row) => Math.abs(values[row])))
      const size = Math.max(most(found), 1e-3 * most(column.values))
      for (const row of column.rows) {
        const slope = (on.column(quantity).values[row] - back.column(quantity).values[row]) / (2 * by)
        expect({ quantity, off: Math.abs(found[row] - slope) / size }).toSatisfy(
          ({ off }: { off: number }) => off < 1e-3,
        )
      }
    }
  })
})

describe('errors of the axes', () => {
  it('are none where nobody has placed them, and the picture’s directions are meant', () => {
    const document = edit(thrown({ frames: 5 }), (draft) => {
      axesOf(draft).placed = false
    }).document
    expect(analyse(document).table(THROWN.body).axesErrors).toEqual([])
  })

  it('are those of the origin, the tilt and the direction of gravity', () => {
    const document = [
      edits.setAxes({ origin: { x: 10, y: 20, frame: 0, error: 1.2 }, tilt: 0.1, tiltError: 0.02 }),
      edits.setGravity({ direction: -1.5, error: 0.03 }),
    ].reduce((made, mutator) => edit(made, mutator).document, thrown({ frames: 5 }))
    expect(analyse(document).table(THROWN.body).axesErrors).toEqual([
      { source: 'origin', parameter: 'originX', error: 1.2 },
      { source: 'origin', parameter: 'originY', error: 1.2 },
      { source: 'tilt', parameter: 'tilt', error: 0.02 },
      { source: 'gravity', parameter: 'gravity', error: expect.closeTo(0.03, 9) },
    ])
  })

  it('move the potential energy as a turned direction of gravity does', () => {
    const document = base.reduce((made, mutator) => edit(made, mutator).document, thrown({ frames: 20 }))
    const turned = (by: number) => tableOf(document, edits.setGravity({ direction: -1.4 + by, error: 0 }))
    const column = analyse(document).table(THROWN.body).column('Ep')
    const [on, back] = [turned(1e-5), turned(-1e-5)]
    const found = column.calibrationSensitivities.gravity()
    for (const row of column.rows) {
      const slope = (on.column('Ep').values[row] - back.column('Ep').values[row]) / 2e-5
      expect(Math.abs(found[row])).toBeCloseTo(Math.abs(slope), 5)
    }
  })
})
