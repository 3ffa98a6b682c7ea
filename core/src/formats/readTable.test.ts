import { describe, expect, it } from 'vitest'
import { MOST_POINTS } from '../investigation/index.ts'
import { readTable, seriesOf } from './index.ts'

const rowsOf = (text: string, separator: string) => text.split('\n').map((line) => line.split(separator))

describe('a table from elsewhere', () => {
  it('has names above its columns, or gets them', () => {
    const named = readTable(rowsOf('time (s),position (m)\n0,1.5\n0.1,1.6', ','), ',')
    expect(named.heads).toEqual(['time (s)', 'position (m)'])
    expect(named.columns).toEqual([
      [0, 0.1],
      [1.5, 1.6],
    ])
    const bare = readTable(rowsOf('0,1.5\n0.1,1.6', ','), ',')
    expect(bare.heads).toEqual(['column 1', 'column 2'])
    expect(bare.columns[1]).toEqual([1.5, 1.6])
  })

  it('may have decimal commas, and thousands with points', () => {
    const { columns } = readTable(rowsOf('t;x\n0,00;1.234,5\n0,05;−2,25', ';'), ';')
    expect(columns).toEqual([
      [0, 0.05],
      [1234.5, -2.25],
    ])
  })

  it('may have words, empty fields and short rows between its numbers', () => {
    const text = 'sensor 7\tof the fair\ntime\tx\tremark\n0\t1\tgo\n0.1\t\t\n\n0.2\t3\tend\n0.3'
    const { columns, heads } = readTable(rowsOf(text, '\t'), '\t')
    expect(columns).toHaveLength(2)
    expect(columns[0]).toEqual([0, 0.1, 0.2, 0.3])
    expect(seriesOf(columns[0], columns[1])).toEqual({ times: [0, 0.2], values: [1, 3] })
    expect(heads).toHaveLength(2)
  })

  it('is cut at the most points that a series can have, and says so', () => {
    const rows = Array.from({ length: MOST_POINTS + 5 }, (_, i) => [String(i), String(2 * i)])
    const { columns, more } = readTable(rows, ',')
    expect(columns[0]).toHaveLength(MOST_POINTS)
    expect(more).toBe(true)
  })

  it('has nothing where there are no numbers', () => {
    expect(readTable(rowsOf('a,b\nc,d', ','), ',').columns).toEqual([])
    expect(readTable([], ',').columns).toEqual([])
  })
})

describe('a series', () => {
  it('is in the order of its times, with one value for each', () => {
    expect(seriesOf([2, 0, 1, 1, Number.NaN], [5, 3, 4, 6, 9])).toEqual({
      times: [0, 1, 2],
      values: [3, 5, 5],
    })
  })
})
