import { describe, expect, it } from 'vitest'
import { type PageItem, paginate } from './paginate.ts'

const block = (height: number, more: Partial<PageItem> = {}): PageItem => ({
  height,
  keepsWithNext: false,
  beginsPage: false,
  rows: null,
  ...more,
})
const heading = (height = 10) => block(height, { keepsWithNext: true })
/** Returns a table with a caption and head of 20, of which the head is 10, and rows of 10. */
const table = (rows: number) =>
  block(20 + 10 * rows, { rows: { top: 20, head: 10, heights: Array.from({ length: rows }, () => 10) } })

describe('paginate', () => {
  it('begins no page while there is room', () => {
    expect(paginate([], 0, 100)).toEqual([])
    expect(paginate([block(40), block(60)], 0, 100)).toEqual([])
  })

  it('keeps a block whole, and tells what stays empty', () => {
    expect(paginate([block(60), block(50)], 0, 100)).toEqual([{ item: 1, row: null, rest: 40 }])
    expect(paginate([block(60), block(50)], 20, 100)).toEqual([{ item: 1, row: null, rest: 20 }])
  })

  it('takes headings along to what they head', () => {
    expect(paginate([block(70), heading(), heading(), block(20)], 0, 100)).toEqual([
      { item: 1, row: null, rest: 30 },
    ])
    expect(paginate([block(70), heading(), block(20)], 0, 100)).toEqual([])
  })

  it('leaves a heading at the end of the text where it is', () => {
    expect(paginate([block(90), heading()], 0, 100)).toEqual([])
  })

  it('begins a page where that is wished, behind a heading too', () => {
    expect(paginate([heading(), block(10, { beginsPage: true })], 0, 100)).toEqual([
      { item: 1, row: null, rest: 90 },
    ])
  })

  it('moves a table that fits on a page', () => {
    expect(paginate([block(50), table(6)], 0, 100)).toEqual([{ item: 1, row: null, rest: 50 }])
  })

  it('splits a longer table between rows, and repeats its head', () => {
    // 50 + 20 + 3 rows fill the first page; a head and 9 rows the second; a head and 3 rows the third.
    expect(paginate([block(50), table(15)], 0, 100)).toEqual([
      { item: 1, row: 3, rest: 0 },
      { item: 1, row: 12, rest: 0 },
    ])
  })

  it('leaves no single row of a table on a page', () => {
    // A single row would fit behind the head; a single one would be left for the second page.
    expect(paginate([block(65), table(9)], 0, 100)).toEqual([
      { item: 1, row: null, rest: 35 },
      { item: 1, row: 7, rest: 10 },
    ])
  })

  it('lets a text longer than a page flow over, from the head of a page', () => {
    expect(paginate([block(30), block(230), block(60), block(20)], 0, 100)).toEqual([
      { item: 1, row: null, rest: 70 },
      { item: 3, row: null, rest: 10 },
    ])
  })
})
