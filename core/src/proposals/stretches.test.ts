import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import type { FramePoint } from './segments.ts'
import { motionStretches, type ProposedStretch } from './stretches.ts'

const RATE = 60
const ERROR = 0.35
const REPEATS = 60

/** Returns marks of a path through some frames, the first being frame 10. */
function marked(count: number, at: (t: number) => { x: number; y: number }, seed: number): FramePoint[] {
  const noise = normalSource(randomSource(seed))
  return Array.from({ length: count }, (_, i): FramePoint => {
    const { x, y } = at(i / RATE)
    return { frame: 10 + i, t: i / RATE, x: x + ERROR * noise(), y: y + ERROR * noise() }
  })
}

/** A motion of which the frames are known in which one law holds. */
interface Case {
  name: string
  count: number
  /** Path in pixels by seconds, where a number from 0 to 1 makes each repeat different. */
  path: (t: number, luck: number) => { x: number; y: number }
  law: ProposedStretch['law']
  /** First and last frame of each stretch. */
  truth: [number, number][]
}

/** Held, swung by a hand from frame 30 on, let go in frame 40, caught in frame 90. */
const thrown: Case['path'] = (t, luck) => {
  const g = 1200
  const [swing, go, caught] = [20 / RATE, 30 / RATE, 80 / RATE]
  const speed = { x: 250 + 200 * luck, y: -(500 + 200 * luck) }
  const swung = Math.min(Math.max(0, t - swing), go - swing)
  const flown = Math.min(Math.max(0, t - go), caught - go)
  const share = swung / (go - swing)
  return {
    x: 200 + (speed.x * share * swung) / 2 + speed.x * flown,
    y: 500 + (speed.y * share * swung) / 2 + speed.y * flown + (g * flown ** 2) / 2,
  }
}

/** Let go at once, and bouncing with 0.7 of its speed in frames 42 and so on. */
const bounced: Case['path'] = (t, luck) => {
  const g = 1500 + 500 * luck
  const first = 32 / RATE
  const height = (g * first ** 2) / 2
  if (t <= first) return { x: 300, y: 600 - height + (g * t * t) / 2 }
  const up = 0.7 * g * first
  const second = (2 * up) / g
  const after = t - first
  if (after <= second) return { x: 300, y: 600 - up * after + (g * after ** 2) / 2 }
  const late = after - second
  return { x: 300, y: 600 - 0.7 * up * late + (g * late ** 2) / 2 }
}

const CASES: Case[] = [
  {
    name: 'a throw between two hands',
    count: 100,
    path: thrown,
    law: 'uniform-acceleration',
    truth: [[40, 90]],
  },
  {
    name: 'a body that slides to rest',
    count: 90,
    path: (t, luck) => {
      const a = 300 + 100 * luck
      const stop = 1
      const moving = Math.min(t, stop)
      return { x: 100 + a * stop * moving - (a * moving ** 2) / 2, y: 400 }
    },
    law: 'uniform-acceleration',
    truth: [[10, 70]],
  },
  {
    name: 'a cart that meets another one',
    count: 80,
    path: (t, luck) => ({
      x: 100 + (300 + 100 * luck) * Math.min(t, 0.6) + 80 * Math.max(0, t - 0.6),
      y: 300,
    }),
    law: 'uniform',
    truth: [
      [10, 46],
      [46, 89],
    ],
  },
  {
    name: 'a ball that bounces',
    count: 105,
    path: bounced,
    law: 'uniform-acceleration',
    truth: [
      [10, 42],
      [42, 86],
      [87, 114],
    ],
  },
  {
    name: 'a pendulum',
    count: 300,
    path: (t, luck) => ({
      x: 400 + 150 * Math.cos((3 + luck) * t),
      y: 500 - 20 * Math.cos(2 * (3 + luck) * t),
    }),
    law: 'oscillation',
    truth: [[10, 309]],
  },
]

describe.each(CASES)('$name', ({ count, path, law, truth }) => {
  const found = Array.from({ length: REPEATS }, (_, i) => {
    const luck = randomSource(i + 1)()
    return motionStretches(
      marked(count, (t) => path(t, luck), i + 1),
      ERROR,
    )
  })

  it('is proposed where its law holds, no more than a frame beyond, in 95 %', () => {
    const right = found.filter(
      (stretches) =>
        stretches.length === truth.length &&
        stretches.every(({ from, to }, i) => from >= truth[i][0] - 1 && to <= truth[i][1] + 1),
    )
    expect(right.length / REPEATS).toBeGreaterThanOrEqual(0.95)
  })

  it('is proposed for 80 % of its frames, and with its law, in 90 %', () => {
    const whole = found.filter((stretches) =>
      stretches.every(({ from, to, law: told }, i) => {
        if (!truth[i]) return false
        const [first, last] = truth[i]
        return told === law && to - from >= 0.8 * (last - first)
      }),
    )
    expect(whole.length / REPEATS).toBeGreaterThanOrEqual(0.9)
  })
})

describe('what is no motion', () => {
  it('is not proposed: a body at rest, few marks, none', () => {
    expect(
      motionStretches(
        marked(100, () => ({ x: 5, y: 5 }), 1),
        ERROR,
      ),
    ).toEqual([])
    expect(
      motionStretches(
        marked(5, (t) => ({ x: 500 * t, y: 5 }), 1),
        ERROR,
      ),
    ).toEqual([])
    expect(motionStretches([], ERROR)).toEqual([])
  })

  it('says what is before and after a stretch', () => {
    const [slide] = motionStretches(
      marked(90, (t) => CASES[1].path(t, 0.5), 1),
      ERROR,
    )
    expect(slide).toMatchObject({ begins: 'marks', ends: 'rest' })
    const [before, after] = motionStretches(
      marked(80, (t) => CASES[2].path(t, 0.5), 1),
      ERROR,
    )
    expect(before).toMatchObject({ begins: 'marks', ends: 'abrupt' })
    expect(after).toMatchObject({ begins: 'abrupt', ends: 'marks' })
  })
})
