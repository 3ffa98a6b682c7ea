import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { fitColumn } from '../fitting/index.ts'
import { axesOf, edit, edits, type Mutator } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { applyMap, rowProduct } from '../regression/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { afterOscillations, DERIVATIVES, markErrorOf, markErrors, turningPoints } from './index.ts'

describe('three-point derivatives', () => {
  const derived = (times: number[], order: 1 | 2, breaks: number[] = []) =>
    DERIVATIVES['three-point'].derive({ from: times, to: times, breaks: new Set(breaks) }, order, 1, [])

  it('are exact for uniform acceleration on uneven times', () => {
    const times = [0, 0.1, 0.15, 0.4, 0.41]
    const values = times.map((t) => 2 - 3 * t + 4 * t * t)
    applyMap(derived(times, 1).map, values).forEach((slope, i) => {
      expect(slope).toBeCloseTo(-3 + 8 * times[i + 1], 10)
    })
    applyMap(derived(times, 2).map, values).forEach((bend) => {
      expect(bend).toBeCloseTo(8, 8)
    })
  })

  it('miss by h₁h₂x‴/6 and (h₂ − h₁)x‴/3 where the acceleration changes', () => {
    const values = [-0.001, 0, 0.027]
    const [slope] = applyMap(derived([-0.1, 0, 0.3], 1).map, values)
    expect(slope).toBeCloseTo((0.1 * 0.3 * 6) / 6, 12)
    const [bend] = applyMap(derived([-0.1, 0, 0.3], 2).map, values)
    expect(bend).toBeCloseTo(((0.3 - 0.1) * 6) / 3, 12)
  })

  it('know that neighbours share marks', () => {
    const { map } = derived([0, 1, 2, 3, 4], 1)
    expect(rowProduct(map, 0, 0)).toBeCloseTo(0.5, 12)
    expect(rowProduct(map, 0, 1)).toBeCloseTo(0, 12)
    expect(rowProduct(map, 0, 2)).toBeCloseTo(-0.25, 12)
  })

  it('are none for fewer than three points, nor beside a break', () => {
    expect(derived([0, 1], 1).rows).toEqual([])
    expect(derived([0, 1, 2, 3, 4, 5, 6], 1, [3]).rows).toEqual([1, 4, 5])
  })

  it('go beside a rest through its nearer end, and give the rest none', () => {
    // At rest until t = 2, then off with an acceleration of 6.
    const points = { from: [0, 2.5, 3], to: [2, 2.5, 3], breaks: new Set<number>() }
    const { rows, map } = DERIVATIVES['three-point'].derive(points, 1, 1, [])
    expect(rows).toEqual([1])
    expect(applyMap(map, [0, 3 * 0.25, 3])[0]).toBeCloseTo(3, 12)
    expect(
      DERIVATIVES['three-point'].derive(
        { ...points, from: [-1, ...points.from], to: [-1, ...points.to] },
        1,
        1,
        [],
      ).rows,
    ).toEqual([2])
  })
})

describe('motion table', () => {
  it('has the true positions and velocities of a throw in metres', () => {
    const table = analyse(thrown({})).table(THROWN.body)
    expect(table.length).toBe('m')
    table.frames.forEach((_, row) => {
      const t = table.times[row]
      expect(table.column('x').values[row]).toBeCloseTo(2.6 * t, 9)
      expect(table.column('y').values[row]).toBeCloseTo(4.2 * t - (9.81 / 2) * t * t, 9)
    })
    expect(table.column('vy').values[0]).toBeNaN()
    expect(table.column('vy').values[49]).toBeNaN()
    expect(table.column('vy').values[20]).toBeCloseTo(4.2 - 9.81 * table.times[20], 8)
    expect(table.column('vy').unit).toBe('m/s')
  })

  it('counts time from the first frame of the span and leaves out marks that are not in it', () => {
    const { document } = edit(thrown({}), edits.setSpan({ first: 10, last: 20, every: 3 }))
    const table = analyse(document).table(THROWN.body)
    expect(table.frames).toEqual([10, 13, 16, 19])
    expect(table.times[1]).toBeCloseTo(3 / 60, 12)
    expect(Object.keys(document.bodies[THROWN.body].marks)).toHaveLength(50)
  })

  it('is in pixels without a reference length and follows the axes', () => {
    const { document } = edit(thrown({}), (draft) => {
      draft.references = {}
      axesOf(draft).tilt = Math.PI / 2
    })
    const table = analyse(document).table(THROWN.body)
    expect(table.column('vx').unit).toBe('px/s')
    expect(table.column('x').values[0]).toBeCloseTo(0, 9)
    expect(table.column('y').values[10]).toBeCloseTo(-(315 / 1.4) * 2.6 * table.times[10], 9)
  })

  it('goes over a gap with true times and invents nothing', () => {
    const { document } = edit(thrown({}), edits.removeMark(THROWN.body, 20))
    const table = analyse(document).table(THROWN.body)
    expect(table.frames).not.toContain(20)
    const row = table.frames.indexOf(21)
    expect(table.column('vy').values[row]).toBeCloseTo(4.2 - 9.81 * table.times[row], 8)
  })

  it('is empty for a body without marks and refuses an unknown one', () => {
    const { document } = edit(thrown({}), (draft) => {
      draft.bodies[THROWN.body].marks = {}
    })
    expect(analyse(document).table(THROWN.body).frames).toEqual([])
    expect(() => analyse(document).table('nobody')).toThrow(RangeError)
  })
})

const changed = (...mutators: Mutator[]) =>
  mutators.reduce((document, mutator) => edit(document, mutator).document, thrown({}))

describe('a rest', () => {
  const { x, y } = thrown({}).bodies[THROWN.body].marks[10]
  const rested = changed(edits.setRest(THROWN.body, 0, 10, { x, y }))

  it('is one row, in the middle of its time, and one mark', () => {
    const table = analyse(rested).table(THROWN.body)
    expect(table.frames.slice(0, 2)).toEqual([0, 11])
    expect(table.until[0]).toBe(10)
    expect(table.times[0]).toBeCloseTo(5 / 60, 12)
    expect(Object.keys(rested.bodies[THROWN.body].marks)).toHaveLength(40)
  })

  it('counts as one point in a fit', () => {
    const range = { from: 0, to: 49 }
    const { freedom } = fitColumn(analyse(rested).table(THROWN.body), 'y', range, {
      model: 'uniform-acceleration',
    })
    expect(freedom).toBe(40 - 3)
  })

  it('is cut to the span, and gone where the span has none of it', () => {
    const cut = (first: number) =>
      analyse(edit(rested, edits.setSpan({ first, last: 49, every: 3 })).document).table(THROWN.body)
    expect([cut(4).frames[0], cut(4).until[0]]).toEqual([4, 10])
    expect(cut(12).frames[0]).toBe(12)
  })

  it('gives way to a mark that is set in it', () => {
    const { document } = edit(rested, edits.setMark(THROWN.body, 6, { x: 1, y: 2 }))
    const { marks } = document.bodies[THROWN.body]
    expect(marks[0].until).toBe(5)
    expect(marks[6]).toEqual({ x: 1, y: 2, by: 'hand' })
  })
})

describe('a break', () => {
  it('is never derived across, and a fit across it says so', () => {
    const document = changed(edits.setBreak(THROWN.body, 20, 'break'))
    const table = analyse(document).table(THROWN.body)
    expect(table.column('vy').values[19]).toBeNaN()
    expect(table.column('vy').values[20]).toBeNaN()
    expect(table.column('vy').values[18]).toBeCloseTo(4.2 - 9.81 * table.times[18], 8)
    expect(table.column('vy').values[21]).toBeCloseTo(4.2 - 9.81 * table.times[21], 8)
    const across = (from: number, to: number) =>
      fitColumn(table, 'vy', { from, to }, { model: 'uniform-acceleration' })
    expect(across(0, 49).breaks).toBe(1)
    expect(across(20, 49).breaks).toBe(0)
    // Velocities on both sides are fitted by their own marks.
    expect(across(0, 49).reading.value).toBeCloseTo(-9.81, 6)
  })
})

describe('the turn of a body', () => {
  const spin = 9
  const second = (frame: number) => {
    const { x, y } = thrown({}).bodies[THROWN.body].marks[frame]
    const angle = 0.4 + (spin * frame) / 60
    return { x: x + 30 * Math.cos(angle), y: y - 30 * Math.sin(angle) }
  }
  const frames = Array.from({ length: 50 }, (_, i) => i).filter((i) => i % 4 !== 3)
  const document = changed(...frames.map((frame) => edits.setSecond(THROWN.body, frame, second(frame))))

  it('is told by its second point without jumps, and so is its spin', () => {
    const table = analyse(document).table(THROWN.body)
    const [turn, spins] = [table.column('turn'), table.column('spin')]
    expect(turn.unit).toBe('rad')
    expect(spins.unit).toBe('rad/s')
    for (const row of turn.rows) expect(turn.values[row]).toBeCloseTo(0.4 + (spin * row) / 60, 9)
    expect(turn.values[3]).toBeNaN()
    for (const row of spins.rows) expect(spins.values[row]).toBeCloseTo(spin, 8)
    expect(spins.rows).toHaveLength(frames.length - 2)
    const { reading } = fitColumn(table, 'turn', { from: 0, to: 49 }, { model: 'uniform' })
    expect(reading.value).toBeCloseTo(spin, 8)
    expect(reading.parts.map(({ source }) => source)).not.toContain('placing')
  })
})

describe('the error of a mark', () => {
  const noisy = (sigma: (frame: number) => number, seed: number) => {
    const noise = normalSource(randomSource(seed))
    let frame = 0
    const ticks = Array.from({ length: 120 }, (_, i) => i * 256)
    const document = thrown({
      ticks,
      place: ({ x, y }) => {
        const by = sigma(frame++)
        return { x: x + by * noise(), y: y + by * noise() }
      },
    })
    return document
  }

  it('is found from their scatter, and stays as it is where speed changes nothing', () => {
    const found = [1, 2, 3, 4, 5, 6, 7, 8].map((seed) => {
      const errors = markErrors(noisy(() => 0.6, seed).bodies[THROWN.body])
      expect(errors.growth).toBe(0)
      return errors.base
    })
    const mean = found.reduce((sum, one) => sum + one, 0) / found.length
    expect(Math.abs(mean / 0.6 - 1)).toBeLessThan(0.1)
  })

  it('grows with the speed where the marks show it', () => {
    // The throw goes by 10 to 60 px a frame; its error is 0.3 px and 3 % of that.
    const document = thrown({ ticks: Array.from({ length: 120 }, (_, i) => i * 256) })
    const { marks } = document.bodies[THROWN.body]
    const way = (frame: number) => {
      const [a, b] = [marks[Math.max(0, frame - 1)], marks[Math.min(119, frame + 1)]]
      return Math.hypot(b.x - a.x, b.y - a.y) / 2
    }
    const grown = noisy((frame) => Math.hypot(0.2, 0.04 * way(frame)), 7).bodies[THROWN.body]
    const errors = markErrors(grown)
    expect(Math.abs(errors.growth / 0.04 - 1)).toBeLessThan(0.4)
    expect(errors.at(110)).toBeGreaterThan(2 * errors.at(26))
  })

  it('is no more for a jump at a break, nor for a rest before it', () => {
    const jumped = edit(
      noisy(() => 0.6, 5),
      (draft) => {
        const { marks, breaks } = draft.bodies[THROWN.body]
        for (let frame = 20; frame < 50; frame++) marks[frame].x += 300
        breaks[20] = 'break'
      },
    ).document.bodies[THROWN.body]
    const plain = markErrors(noisy(() => 0.6, 5).bodies[THROWN.body]).base
    expect(Math.abs(markErrors(jumped).base / plain - 1)).toBeLessThan(0.15)
    const unsaid = { ...jumped, breaks: {} }
    expect(markErrors(unsaid).base).toBeGreaterThan(markErrors(jumped).base)
  })

  it('is what somebody types', () => {
    const document = changed(edits.changeBody(THROWN.body, { markError: 2 }))
    expect(markErrorOf(document.bodies[THROWN.body])).toBe(2)
  })

  it('is carried over to every derived quantity', () => {
    const table = analyse(changed(edits.changeBody(THROWN.body, { markError: 2 }))).table(THROWN.body)
    const metres = (2 * 1.4) / 315
    expect(table.column('y').errors[5]).toBeCloseTo(metres, 12)
    expect(table.column('vy').errors[5]).toBeCloseTo((metres * 60) / Math.SQRT2, 9)
    expect(table.column('ay').errors[5]).toBeCloseTo(metres * 3600 * Math.sqrt(6), 6)
    expect(table.column('vy').errors[0]).toBeNaN()
  })
})

describe('oscillations', () => {
  const swing = Array.from({ length: 400 }, (_, i) => Math.exp(-i / 400) * Math.cos((2 * Math.PI * i) / 60))

  it('turn back at every half period', () => {
    turningPoints(swing).forEach((at, n) => {
      expect(Math.abs(at - 30 * (n + 1))).toBeLessThanOrEqual(1)
    })
    expect(turningPoints(swing)).toHaveLength(13)
  })

  it('are counted from where the body is let go', () => {
    expect(Math.abs(afterOscillations(swing, 1)! - 60)).toBeLessThanOrEqual(1)
    expect(Math.abs(afterOscillations(swing, 3)! - 180)).toBeLessThanOrEqual(1)
    expect(afterOscillations(swing, 20)).toBeNull()
  })

  it('are none in noise, in a straight line, and in nothing', () => {
    expect(turningPoints([0, 1, 2, 3, 4])).toEqual([])
    expect(turningPoints([0, 5, 10, 9.9, 20, 19.8, 30])).toEqual([])
    expect(turningPoints([])).toEqual([])
    expect(turningPoints([1, 1, 1])).toEqual([])
  })
})
