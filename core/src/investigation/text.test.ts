import { describe, expect, it } from 'vitest'
import { full, id } from '../testing/built.ts'
import { cleanTitle, cutText, edit, edits, isOneLine } from './index.ts'

describe('a text that is cut', () => {
  it.each([
    ['short', 10, 'short'],
    ['lantern', 4, 'lant'],
    // A kite is two units, a family eleven, é here two.
    ['🪁🪁🪁', 5, '🪁🪁'],
    ['🪁🪁🪁', 1, ''],
    ['a👨‍👩‍👧‍👦b', 8, 'a'],
    ['a👨‍👩‍👧‍👦b', 12, 'a👨‍👩‍👧‍👦'],
    ['cafe\u0301', 4, 'caf'],
  ])('%s to %i units is %s', (text, most, cut) => {
    expect(cutText(text, most)).toBe(cut)
  })

  it('that is one endless character is cut all the same', () => {
    expect(cutText(`a${'\u0301'.repeat(1e6)}`, 100).length).toBeLessThanOrEqual(100)
  })
})

describe('a title', () => {
  it.each([
    ['Net\u0000 float\nagain\t', 'Net float again'],
    ['half \ud83d', 'half \uFFFD'],
    ['\udc00', '\uFFFD'],
    ['🪁', '🪁'],
  ])('is made of %j', (text, made) => {
    expect(cleanTitle(text, 200)).toBe(made)
    expect(isOneLine(made)).toBe(true)
  })

  it.each(['a\u0000', 'a\nb', 'half \ud83d', '\udc00half'])('is not %j', (text) => {
    expect(isOneLine(text)).toBe(false)
  })
})

describe('an edit', () => {
  it('keeps no half of a character, whoever wrote it', () => {
    const { document, patch } = edit(full(), edits.changeBody(id(3), { name: 'kite \ud83e' }))
    expect(document.bodies[id(3)].name).toBe('kite \uFFFD')
    expect(patch).toEqual([{ op: 'replace', path: `/bodies/${id(3)}/name`, value: 'kite \uFFFD' }])
  })

  it('names a copy of a body between two emoji', () => {
    const named = edit(full(), edits.changeBody(id(3), { name: `x${'🪁'.repeat(59)}` })).document
    const { bodies } = edit(
      named,
      edits.duplicateBody(id(3), id(20), { position: id(21), velocity: id(22) }),
    ).document
    expect(bodies[id(20)].name).toBe(`x${'🪁'.repeat(54)} copy`)
  })
})
