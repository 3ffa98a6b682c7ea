import { describe, expect, it } from 'vitest'
import { full, id } from '../testing/built.ts'
import { applyPatch, checkPatch, PatchError, patchesMeet } from './index.ts'

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
    [[{ op: 'add', path: '/__proto__/x', value: 1 }]],
    [[{ op: 'add', path: '/bodies/constructor/prototype/x', value: 1 }]],
    [[{ op: 'test', path: '/title', value: 1 }]],
    [[{ op: 'move', from: '/title', path: '/x' }]],
    [[{ op: 'replace', path: '', value: {} }]],
    [[{ op: 'replace', path: 'title', value: 'x' }]],
    [[]],
    ['text'],
  ])('from outside like %j are refused', (patch) => {
    expect(() => checkPatch(patch)).toThrow()
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
  })
})
