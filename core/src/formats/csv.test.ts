import { describe, expect, it } from 'vitest'
import { motionTable } from '../motion/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { fileNameOf, motionCsv } from './index.ts'

const table = motionTable(thrown({ frames: 4 }), THROWN.body)

describe('motion table as CSV', () => {
  it('has units in its header, all digits, and empty fields where there is no value', () => {
    const lines = motionCsv(table, ['frame', 't', 'y', 'vy']).split('\r\n')
    expect(lines[0]).toBe('frame,t (s),y (m),vy (m/s)')
    expect(lines[1].endsWith(',')).toBe(true)
    expect(lines).toHaveLength(6)
    const [frame, t, y, vy] = lines[2].split(',').map(Number)
    expect([frame, t, y, vy]).toEqual([
      1,
      table.times[1],
      table.column('y').values[1],
      table.column('vy').values[1],
    ])
  })

  it('quotes what needs it and lets no name become a formula', () => {
    expect(motionCsv(table, ['x'], 'float, "red"').split('\r\n')[0]).toBe('"float, ""red"": x (m)"')
    expect(motionCsv(table, ['x'], '=HYPERLINK(1)').split('\r\n')[0]).toBe("'=HYPERLINK(1): x (m)")
  })
})

describe('file names', () => {
  it.each([
    ['Net float, second throw', 'Net float, second throw.csv'],
    ['../../etc/passwd', 'etc passwd.csv'],
    ['<b>Fähre</b>', 'b Fähre b.csv'],
    ['???', 'investigation.csv'],
  ])('from %s', (title, name) => {
    expect(fileNameOf({ title }, 'csv')).toBe(name)
  })
})
