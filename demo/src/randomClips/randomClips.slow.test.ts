import { describe, expect, it } from 'vitest'
import { type ClipResult, clipResult, resultLine } from './clipResult.ts'
import { randomClip } from './randomClip.ts'

/** Following and the errors of readings on clips of which everything is known, rendered anew. */

/** Of the clips in the slow run: the same ones each time, and as many that nobody has seen. */
const SAME = Array.from({ length: 20 }, (_, i) => 101 + i)
const NEW = Array.from({ length: 20 }, (_, i) => Math.floor(Date.now() / 1000) + i)

describe('forty random clips', () => {
  const results: ClipResult[] = []

  it.each([...SAME, ...NEW])('with seed %i', async (seed) => {
    const result = await clipResult(randomClip(seed))
    results.push(result)
    console.log(resultLine(result))
    expect(result.visible).toBeGreaterThan(0)
  })

  it('are followed, and the readings of all of them hold the truth as often as they say', () => {
    const sum = (of: (one: ClipResult) => number) => results.reduce((all, one) => all + of(one), 0)
    const [visible, marked, marks, far] = [
      sum((one) => one.visible),
      sum((one) => one.marked),
      sum((one) => one.marks),
      sum((one) => one.far),
    ]
    const readings = results.flatMap((one) => one.readings)
    const covered = readings.filter(({ value, truth, half }) => Math.abs(value - truth) <= half).length
    console.log(
      `${results.length} clips: ${marked} of ${visible} visible bodies marked, ${far} of ${marks} marks farther off than 3 px, ${covered} of ${readings.length} readings within their 95 % interval`,
    )
    expect(marked / visible).toBeGreaterThan(0.9)
    expect(far / marks).toBeLessThan(0.06)
    expect(covered / readings.length).toBeGreaterThan(0.8)
  })
})
