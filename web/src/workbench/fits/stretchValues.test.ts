import { edit, edits } from '@apokinema/core/investigation'
import { THROWN, thrown } from '@apokinema/core/testing/thrown'
import { describe, expect, it } from 'vitest'
import { stretchValues } from './stretchValues.ts'

const [graph, first, second] = Array.from({ length: 3 }, () => crypto.randomUUID())
const laid = edit(
  edit(
    edit(thrown({}), edits.addGraph(graph, THROWN.body, 'vy')).document,
    edits.addStretch(first, graph, 0, 9),
  ).document,
  edits.addStretch(second, graph, 10, 20),
).document

describe('what stretches say by themselves', () => {
  it('is a mean and a slope of each, with their units', () => {
    const said = stretchValues(laid)
      .filter(({ stretch }) => stretch === first || stretch === second)
      .map(({ stretch, word, unit, reading }) => [stretch === first ? 1 : 2, word, unit, reading])
    expect(said.map(([which, word, unit]) => [which, word, unit])).toEqual([
      [1, 'mean', 'm/s'],
      [1, 'slope', 'm/s²'],
      [2, 'mean', 'm/s'],
      [2, 'slope', 'm/s²'],
    ])
    expect(new Set(said.map(([, , , reading]) => reading)).size).toBe(2)
  })

  it('is not offered twice where a fit tells it already', () => {
    const fitted = edit(laid, edits.addFit(crypto.randomUUID(), first, 'uniform')).document
    expect(stretchValues(fitted).filter(({ stretch }) => stretch === first)).toMatchObject([
      { word: 'slope' },
    ])
  })
})
