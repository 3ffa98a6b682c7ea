import { readFileSync } from 'node:fs'
import { analyse } from '@apokinema/core/analysis'
import { delimited, htmlTable, motionSheet, tableJson } from '@apokinema/core/formats'
import type { Investigation } from '@apokinema/core/investigation'
import { dataTable, QUANTITIES } from '@apokinema/core/motion'
import { Ajv2020 } from 'ajv/dist/2020.js'
import { describe, expect, it } from 'vitest'
import { BLOCK_IDS, BLOCKS_TRUTH, markedBlocks } from './markedBlocks.ts'

/** Tables as they are taken elsewhere, of two ice blocks as they truly moved. */

const truth = BLOCKS_TRUTH
const IDS = BLOCK_IDS
const made = (names: string[]) => markedBlocks(names, [0, 1])

const laidOut = (investigation: Investigation, columns: string[]) =>
  dataTable(
    IDS.map((id) => ({ table: analyse(investigation).table(id), columns })),
    (id) => QUANTITIES[id as keyof typeof QUANTITIES] ?? { symbol: id, subscript: '', name: id },
  )
const named = (investigation: Investigation) =>
  Object.fromEntries(Object.entries(investigation.bodies).map(([id, { name }]) => [id, name]))
const plain = {
  separator: ',',
  decimalComma: false,
  byteOrderMark: false,
  errors: false,
  rounded: false,
} as const
/** Fields of text that has none quoted. */
const fieldsOf = (text: string, separator = ',') =>
  text
    .trimEnd()
    .split('\r\n')
    .map((line) => line.split(separator))

describe('a table as text', () => {
  const investigation = made(['large block', 'small block'])
  const table = laidOut(investigation, ['x', 'vy', 'picture-y'])

  it('has the bodies side by side, units above, all digits, and empty fields where there is nothing', () => {
    const [head, ...lines] = fieldsOf(delimited(table, named(investigation), plain))
    expect(head).toEqual([
      'frame',
      't (s)',
      'large block: x (px)',
      'large block: vy (px/s)',
      'large block: picture y (px)',
      'small block: x (px)',
      'small block: vy (px/s)',
      'small block: picture y (px)',
    ])
    expect(lines).toHaveLength(75)
    // The small block has no mark in the first frame, and the first mark has no velocity.
    expect(lines[0].slice(3)).toEqual(['', String(truth.bodies[0].frames[0].y), '', '', ''])
    const own = analyse(investigation).table(IDS[0])
    expect(lines.map((line) => Number(line[2]))).toEqual([...own.column('x').values])
    expect(lines.slice(1, -1).map((line) => Number(line[3]))).toEqual(
      [...own.column('vy').values].slice(1, -1),
    )
  })

  it('has a comma for the decimal point, errors and a byte-order mark where they are asked for', () => {
    const text = delimited(table, named(investigation), {
      separator: ';',
      decimalComma: true,
      byteOrderMark: true,
      errors: true,
      rounded: false,
    })
    expect(text.startsWith('\uFEFFframe;')).toBe(true)
    const [head, , second] = fieldsOf(text.slice(1), ';')
    expect(head.slice(2, 5)).toEqual([
      'large block: x (px)',
      'large block: x error (px)',
      'large block: vy (px/s)',
    ])
    expect(second[1]).toMatch(/^0,0333/)
    const { values, errors } = analyse(investigation).table(IDS[0]).column('x')
    expect(second.slice(2, 4).map((field) => Number(field.replace(',', '.')))).toEqual([values[1], errors[1]])
  })

  it('quotes what needs it, and lets no name become a formula', () => {
    for (const name of ['=HYPERLINK("x")', '+1', '-1', '@sum']) {
      const hostile = made([name, 'small, "block"'])
      const head = delimited(laidOut(hostile, ['x']), named(hostile), plain).split('\r\n')[0]
      expect(head.replaceAll('""', '')).toMatch(/(^|,)"?'[=+\-@]/)
      expect(head).toContain('"small, ""block"": x (px)"')
    }
  })

  it('is a table in a document, too, with nothing in it that is taken for markup', () => {
    const hostile = made(['<img src=x onerror=alert(1)>', 'b'])
    const html = htmlTable(laidOut(hostile, ['x']), named(hostile), true)
    expect(html).not.toContain('<img')
    expect(html.match(/<tr>/g)).toHaveLength(76)
  })
})

describe('a table as JSON', () => {
  const schema = JSON.parse(
    readFileSync(new URL('../../docs/motion-table.schema.json', import.meta.url), 'utf8'),
  ) as object
  const fits = new Ajv2020({ formats: { uuid: /^[0-9a-f-]{36}$/ } }).compile(schema)

  it('fits its schema and has the same numbers', () => {
    const investigation = made(['large block', 'small block'])
    const document = JSON.parse(
      tableJson(investigation, laidOut(investigation, ['x', 'vy', 'Ek']), 'three neighbouring points'),
    ) as {
      columns: { values: (number | null)[] }[]
    }
    expect(fits(document), JSON.stringify(fits.errors)).toBe(true)
    const { values } = analyse(investigation).table(IDS[0]).column('vy')
    expect(document.columns[1].values.map((value) => value ?? Number.NaN)).toEqual([...values])
    expect(fits({ ...document, columns: [{ values: ['text'] }] })).toBe(false)
  })

  it('fits it with evenly spaced rows, too, which lie where the motion was', () => {
    const investigation = made(['large block', 'small block'])
    const table = dataTable(
      [{ table: analyse(investigation).table(IDS[0]), columns: ['x', 'vx'] }],
      (id) => QUANTITIES[id as keyof typeof QUANTITIES],
      { from: 0.1, to: 0.9, count: 5 },
    )
    expect(fits(JSON.parse(tableJson(investigation, table, '')))).toBe(true)
    expect(table.times.map((time) => Number(time.toFixed(9)))).toEqual([0.1, 0.3, 0.5, 0.7, 0.9])
    const { frames } = truth.bodies[0]
    table.times.forEach((time, row) => {
      // Frames are a thirtieth of a second apart, and the block glides nearly evenly.
      const [before, share] = [Math.floor(30 * time + 1e-9), (30 * time) % 1]
      const expected = frames[before].x + share * (frames[before + 1].x - frames[before].x)
      const origin = analyse(investigation).table(IDS[0]).column('x').values[0] - frames[0].x
      expect(Math.abs(table.columns[0].values[row] - origin - expected)).toBeLessThan(0.05)
      expect(table.columns[0].errors[row]).toBeGreaterThan(0)
    })
  })
})

describe('a table as a sheet', () => {
  it('keeps numbers as numbers', () => {
    const investigation = made(['=cmd', 'small block'])
    const motion = motionSheet(investigation, laidOut(investigation, ['x']))
    expect(motion.rows[0].slice(0, 4)).toEqual(['frame', 't (s)', '=cmd: x (px)', '± (px)'])
    expect(typeof motion.rows[1][2]).toBe('number')
    expect(motion.rows[1][4]).toBeNull()
  })
})
