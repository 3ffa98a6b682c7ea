import { describe, expect, it } from 'vitest'
import { full, id } from '../testing/built.ts'
import { builtIns } from '../testing/hostile.ts'
import { applyPatch, checkPatch, compactPatch, edit, type Patch, PatchError, patchesMeet } from './index.ts'

describe('patches', () => {
  it('that do not fit change nothing', () => {
    const document = full()
    const before = JSON.stringify(document)
    const patch = [
      { op: 'replace' as const, path: '/title', value: 'x' },
      { op: 'remove' as const, path: `/bodies/${id(99)}` },
    ]
    expect(() => applyPatch(document, patch)).toThrow(PatchError)
    expect(JSON.stringify(document)).toBe(before)
  })

  it('leave what they do not touch as the same object', () => {
    const document = full()
    const next = applyPatch(document, [{ op: 'replace', path: '/title', value: 'Second throw' }])
    expect(next.title).toBe('Second throw')
    expect(next.footage).toBe(document.footage)
    expect(next.bodies).toBe(document.bodies)
  })

  it.each([
    ['/bodies/hasOwnProperty/call', 1],
    ['/bodies/toString/call', 1],
    ['/title/toString/call', 1],
    ['/bodies/valueOf', {}],
    ['/__proto__/x', 1],
    ['/bodies/constructor/prototype/x', 1],
    ['/title/0', 'x'],
    ['/title/length', 1],
    ['/version/x', 1],
    ['/footage/ticks/runs/length', 50_000_000],
    ['/footage/ticks/runs/2', [1, 1]],
    ['/footage/ticks/runs/01', [1, 1]],
    ['/nothing/x', 1],
    [`/bodies/${id(3)}/mass/value`, 1],
  ])('do not lead through %s, and change nothing that others have', (path, value) => {
    const born = builtIns()
    const document = full()
    expect(() => applyPatch(document, [{ op: 'add', path, value }])).toThrow(PatchError)
    expect(builtIns().every((one, i) => Object.is(one, born[i]))).toBe(true)
    expect(document).toEqual(full())
  })

  it('move through lists by what is there', () => {
    const runs = (patch: Patch) => applyPatch(full(), patch).footage!.ticks.runs
    const path = '/footage/ticks/runs'
    expect(runs([{ op: 'add', path: `${path}/0`, value: [9, 1] }])).toEqual([
      [9, 1],
      [256, 119],
    ])
    expect(runs([{ op: 'add', path: `${path}/-`, value: [9, 1] }])).toEqual([
      [256, 119],
      [9, 1],
    ])
    expect(runs([{ op: 'replace', path: `${path}/0/1`, value: 7 }])).toEqual([[256, 7]])
    expect(runs([{ op: 'remove', path: `${path}/0` }])).toEqual([])
    for (const at of ['1', '-', '-1', '1e0'])
      expect(() => runs([{ op: 'remove', path: `${path}/${at}` }])).toThrow(PatchError)
  })

  it('of twenty thousand operations on one thing are applied in one go', () => {
    const marks = Array.from({ length: 20_000 }, (_, frame) => ({
      op: 'add' as const,
      path: `/bodies/${id(3)}/marks/${frame}`,
      value: { x: frame, y: 0, by: 'hand' },
    }))
    const { bodies } = applyPatch(full(), marks)
    expect(Object.keys(bodies[id(3)].marks)).toHaveLength(20_000)
    expect(bodies[id(3)].marks[19_999].x).toBe(19_999)
  })

  it('do not bring in what all objects have in common, hidden in a value', () => {
    const value = JSON.parse('{"x":1,"__proto__":{"y":2}}')
    expect(() => applyPatch(full(), [{ op: 'replace', path: '/bodies', value }])).toThrow(PatchError)
  })

  it('that change thousands of entries of one thing are sent as that thing, and do the same', () => {
    const marks = (count: number): Patch =>
      Array.from({ length: count }, (_, frame) => ({
        op: 'add' as const,
        path: `/bodies/${id(3)}/marks/${frame + 100}`,
        value: { x: frame, y: 0, by: 'hand' },
      }))
    const title = { op: 'replace' as const, path: '/title', value: 'Long' }
    const document = full()
    const few = marks(500)
    expect(compactPatch(few, applyPatch(document, few))).toBe(few)
    const many = [title, ...marks(3000)]
    const after = applyPatch(document, many)
    const compact = compactPatch(many, after)
    expect(compact.map(({ op, path }) => [op, path])).toEqual([
      ['replace', '/title'],
      ['replace', `/bodies/${id(3)}/marks`],
    ])
    expect(applyPatch(document, compact)).toEqual(after)
    // What is gone in the end is not sent.
    const removed = [...many, { op: 'remove' as const, path: `/bodies/${id(3)}` }]
    const without = applyPatch(document, removed)
    expect(applyPatch(document, compactPatch(removed, without))).toEqual(without)
  })

  it('share nothing with the document that they make, and nothing of it can be changed in place', () => {
    const value = { x: 1, y: 2, by: 'hand' }
    const { bodies } = applyPatch(full(), [{ op: 'add', path: `/bodies/${id(3)}/marks/30`, value }])
    value.x = 9
    expect(bodies[id(3)].marks[30].x).toBe(1)
    for (const one of [bodies, bodies[id(3)], bodies[id(3)].marks, bodies[id(3)].marks[30]])
      expect(Object.isFrozen(one)).toBe(true)
  })

  it('that shorten a list remove what lies beyond, the last one first', () => {
    const repeated = edit(full(), (draft) => {
      draft.timing.repeats = { frames: [3, 5, 8, 9], use: 'keep', originalRate: null }
    }).document
    const shortened = edit(repeated, (draft) => {
      draft.timing.repeats!.frames.length = 2
    })
    expect(shortened.patch).toEqual([
      { op: 'remove', path: '/timing/repeats/frames/3' },
      { op: 'remove', path: '/timing/repeats/frames/2' },
    ])
    expect(applyPatch(repeated, shortened.patch)).toEqual(shortened.document)
    expect(applyPatch(shortened.document, shortened.inverse)).toEqual(repeated)
  })

  it.each([
    [[{ op: 'test', path: '/title', value: 1 }]],
    [[{ op: 'move', from: '/title', path: '/x' }]],
    [[{ op: 'replace', path: '', value: {} }]],
    [[{ op: 'replace', path: 'title', value: 'x' }]],
    [[{ op: 'replace', path: '/title~2', value: 'x' }]],
    [[{ op: 'replace', path: '/title' }]],
    [[{ op: 'replace', path: '/title', value: 'x', from: '/x' }]],
    [[{ op: 'add', path: '/bodies/constructor/prototype/x', value: 1 }]],
    [[{ op: 'add', path: '/bodies/toString', value: 1 }]],
    [[{ op: 'add', path: '/bodies/x', value: JSON.parse('{"a":{"__proto__":{"x":1}}}') }]],
    [[{ op: 'replace', path: '/title', value: 'half \ud83d' }]],
    [[{ op: 'replace', path: '/title\u0000', value: 'x' }]],
    [[{ op: 'replace', path: '/title', value: { 'half \udc00': 1 } }]],
    [[{ op: 'replace', path: '/gravity', value: JSON.parse('[1e400]') }]],
    [[{ op: 'replace', path: '/x'.repeat(20), value: 1 }]],
    [[{ op: 'replace', path: '/x', value: JSON.parse('['.repeat(20) + ']'.repeat(20)) }]],
    [[null]],
    [[[]]],
    [[]],
    [Array.from({ length: 20_001 }, () => ({ op: 'remove', path: '/x' }))],
    ['text'],
    [null],
  ])('from outside like %j are refused', (patch) => {
    expect(() => checkPatch(patch)).toThrow(RangeError)
  })

  it('from outside may set a thing to nothing', () => {
    const patch = [{ op: 'replace', path: '/footage', value: null }]
    expect(checkPatch(patch)).toEqual(patch)
  })

  it('meet where one is above the other, not where names merely begin alike', () => {
    const on = (path: string) => [{ op: 'remove' as const, path }]
    expect(patchesMeet(on('/bodies/a'), on('/bodies/a/marks/3'))).toBe(true)
    expect(patchesMeet(on('/bodies/a/marks/3'), on('/bodies/a/marks/31'))).toBe(false)
    expect(patchesMeet(on('/title'), on('/title'))).toBe(true)
    expect(patchesMeet(on('/bodies/a/marks/3'), on('/bodies'))).toBe(true)
    expect(patchesMeet(on('/bodies/a/marks'), on('/bodies/ab'))).toBe(false)
  })
})
