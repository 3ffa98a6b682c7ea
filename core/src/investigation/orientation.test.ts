import { describe, expect, it } from 'vitest'
import { build, full, id } from '../testing/built.ts'
import { axesOf, checkInvestigation, edit, edits, pictureSize } from './index.ts'

describe('turning the picture', () => {
  const turn = (...turns: ('left' | 'right' | 'mirror')[]) =>
    turns.reduce((document, way) => edit(document, edits.turnPicture(way)).document, full())

  it('takes marks, reference and axes along', () => {
    const turned = turn('right')
    expect(pictureSize(turned)).toEqual({ width: 720, height: 1280 })
    expect(turned.bodies[id(3)].marks[10]).toEqual({ x: 720 - 2.5, y: 1.5, by: 'hand' })
    expect(turned.references[id(2)].ends[0]).toEqual({ x: 320, y: 10, frame: 10 })
    expect(axesOf(turned).origin).toEqual({ x: 220, y: 100, frame: 10 })
    expect(axesOf(turned).tilt).toBeCloseTo(0.1 - Math.PI / 2, 12)
  })

  it.each([
    [['left', 'right']],
    [['right', 'right', 'right', 'right']],
    [['mirror', 'mirror']],
    [['mirror', 'right', 'mirror', 'right']],
  ] as const)('comes back to where it was after %j', (turns) => {
    const back = turn(...turns)
    expect(back.orientation).toEqual({ mirrored: false, quarterTurns: 0 })
    expect(axesOf(back).tilt).toBeCloseTo(0.1, 12)
    expect(back.bodies).toEqual(full().bodies)
    expect(back.references).toEqual(full().references)
  })

  it('takes streaks and second points along', () => {
    const streaked = build(
      (draft) => Object.assign(draft, full()),
      edits.setMark(id(3), 14, { x: 100, y: 200 }, { x: 10, y: -3 }),
      edits.setSecond(id(3), 14, { x: 120, y: 210 }),
    )
    const { marks, second } = edit(streaked, edits.turnPicture('right')).document.bodies[id(3)]
    const { x, y, streak } = marks[14]
    expect(streak).toEqual({ x: 3, y: 10 })
    expect({ x: second[14].x - x, y: second[14].y - y }).toEqual({ x: -10, y: 20 })
  })

  it('takes along where something that moves was refused', () => {
    const refused = edit(full(), edits.refuse(id(20), { kind: 'body', frame: 3, x: 10, y: 20 })).document
    expect(edit(refused, edits.turnPicture('right')).document.refusals[id(20)]).toMatchObject({
      x: 700,
      y: 10,
    })
    expect(edit(refused, edits.setFootage(refused.footage!)).document.refusals).toEqual({})
  })

  it('turns an outline along', () => {
    const radii = Array.from({ length: 24 }, (_, i) => 5 + i)
    const outlined = edit(full(), edits.changeBody(id(3), { outline: { radii } })).document
    const right = edit(outlined, edits.turnPicture('right')).document.bodies[id(3)].outline!.radii
    // What pointed to the right points down.
    expect(right[6]).toBe(radii[0])
    const mirrored = edit(outlined, edits.turnPicture('mirror')).document.bodies[id(3)].outline!.radii
    expect(mirrored[12]).toBe(radii[0])
    expect(mirrored[6]).toBe(radii[6])
  })

  it('takes everything else along that has a place in the picture', () => {
    const at = (x: number, y: number) => ({ x, y, frame: 0 })
    const document = edit(full(), (draft) => {
      edits.addProbe(id(10), 'angle', [at(1, 2), at(3, 4), at(5, 6)])(draft)
      edits.addLandmark(id(11), 4, { x: 7, y: 8 })(draft)
      edits.setPlaneCorners([at(100, 600), at(900, 620), at(880, 200), at(120, 180)])(draft)
      edits.addEdge(
        id(12),
        [at(1, 1), at(50, 1), at(99, 1)].map(({ x, y }) => ({ x, y })),
      )(draft)
    }).document
    const right = edit(document, edits.turnPicture('right')).document
    expect(right.probes[id(10)].points[2]).toEqual({ x: 714, y: 5, frame: 0 })
    expect(right.camera.landmarks[id(11)].marks[4]).toEqual({ x: 712, y: 7 })
    expect(right.plane!.corners[0]).toEqual({ x: 120, y: 100, frame: 0 })
    expect(right.lens!.edges[id(12)].points[1]).toEqual({ x: 719, y: 50 })
    // What was straight down is to the left now.
    expect(right.gravity?.direction).toBeCloseTo(Math.PI, 12)
    const back = edit(right, edits.turnPicture('left')).document
    expect({ ...back, axes: null }).toEqual({ ...document, axes: null })
    // Mirrored, the plane's corners begin at the lower left again.
    const mirrored = edit(document, edits.turnPicture('mirror')).document
    expect(mirrored.plane!.corners[0]).toEqual({ x: 1280 - 900, y: 620, frame: 0 })
    expect(checkInvestigation(mirrored)).toEqual(mirrored)
  })

  it('keeps where the sensor reads out to', () => {
    const read = edit(full(), edits.setReadout({ seconds: 0.016, towards: 'down' })).document
    const towards = (way: 'left' | 'right' | 'mirror') =>
      edit(read, edits.turnPicture(way)).document.timing.readout?.towards
    expect([towards('right'), towards('left'), towards('mirror')]).toEqual(['left', 'right', 'down'])
  })
})
