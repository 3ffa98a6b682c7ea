import { full } from '@apokinema/core/testing/built'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fromChunks, stringifyInSteps, toChunks } from './chunks.ts'

/** Returns how often others could have been answered while something was done. */
async function turnsDuring<T>(act: () => Promise<T>): Promise<{ done: T; turns: number }> {
  let turns = 0
  let isOver = false
  const count = () => {
    turns++
    if (!isOver) setImmediate(count)
  }
  setImmediate(count)
  const done = await act()
  isOver = true
  return { done, turns }
}

const list = Array.from({ length: 30_000 }, (_, i) => i / 7)
const marks = Object.fromEntries(list.map((x, i) => [String(i), { x, y: -x, by: 'hand' }]))

describe('a value', () => {
  it.each<[string, unknown]>([
    ['a number', 7],
    ['null', null],
    ['a document', full()],
    ['a long list', list],
    ['a long list of long lists', [list, [], list, 5]],
    ['a list of many short ones', Array.from({ length: 9000 }, (_, i) => [i, { i }])],
    ['many entries', marks],
    ['heavy things beside light ones', { a: 1, b: { marks }, c: [], d: { marks, e: list }, f: 'end' }],
    ['names that objects have', JSON.parse(`{"__proto__":{"list":[${list}]},"constructor":[${list}]}`)],
  ])('is the same after it was cut and assembled: %s', async (_, value) => {
    const text = JSON.stringify(value)
    expect(JSON.stringify(await fromChunks(toChunks(value)))).toBe(text)
    expect(await stringifyInSteps(value)).toBe(text)
  })

  it('is the same whatever it is', async () => {
    const wide = fc.array(fc.jsonValue(), { minLength: 1, maxLength: 4 })
    await fc.assert(
      fc.asyncProperty(wide, fc.integer({ min: 1, max: 3000 }), async (parts, times) => {
        const value = { list: Array.from({ length: times }, () => parts), parts }
        const text = JSON.stringify(value)
        expect(JSON.stringify(await fromChunks(toChunks(value)))).toBe(text)
        expect(await stringifyInSteps(value)).toBe(text)
      }),
      { numRuns: 30, seed: 31415 },
    )
  })

  it('leaves out what is undefined, as JSON does', async () => {
    const value = { a: undefined, list, b: undefined, c: 1 }
    expect(await stringifyInSteps(value)).toBe(JSON.stringify(value))
  })

  it('that is large lets others be answered in between', async () => {
    const large = { bodies: { one: { marks } } }
    // 150,000 values at most 4,000 at a time.
    expect((await turnsDuring(() => stringifyInSteps(large))).turns).toBeGreaterThan(30)
    const pieces = toChunks(large)
    expect((await turnsDuring(() => fromChunks(pieces))).turns).toBeGreaterThan(30)
  })
})
