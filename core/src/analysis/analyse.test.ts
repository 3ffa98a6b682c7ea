import { describe, expect, it } from 'vitest'
import { edit, edits, type Investigation, type Mutator, plainText } from '../investigation/index.ts'
import { id } from '../testing/built.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { analyse } from './index.ts'

const FIT = id(71)

/** A throw with a parabola through its heights. */
function fitted(): Investigation {
  const stretch = id(70)
  return [
    edits.addStretch(stretch, THROWN.position, 0, 20),
    edits.addFit(FIT, stretch, 'uniform-acceleration'),
  ].reduce((before, mutator) => edit(before, mutator).document, thrown({}))
}

const paragraph = {
  kind: 'text' as const,
  style: 'paragraph' as const,
  indent: 0,
  inlines: [plainText('It flew.')],
}

describe('an edit', () => {
  const before = fitted()
  const known = analyse(before)
  const [table, fit] = [known.table(THROWN.body), known.fit(FIT)]
  const after = (mutator: Mutator<Investigation>) => analyse(edit(before, mutator).document)

  it.each<[string, Mutator<Investigation>]>([
    ['of the report', edits.appendBlocks([[id(80), paragraph]])],
    ['of the title', edits.setTitle('Net float')],
    ['of a graph’s title', edits.changeGraph(THROWN.position, { title: 'Height' })],
  ])('%s leaves tables and fits as they are', (_, mutator) => {
    expect(after(mutator).table(THROWN.body)).toBe(table)
    expect(after(mutator).fit(FIT)).toBe(fit)
  })

  it.each<[string, Mutator<Investigation>]>([
    ['of a mark', edits.setMark(THROWN.body, 3, { x: 1, y: 2 })],
    ['of a reference', edits.changeReference(Object.keys(before.references)[0], { length: 3 })],
  ])('%s gives others', (_, mutator) => {
    expect(after(mutator).table(THROWN.body)).not.toBe(table)
    expect(after(mutator).fit(FIT)!.fit!.reading.value).not.toBe(fit!.fit!.reading.value)
  })
})
