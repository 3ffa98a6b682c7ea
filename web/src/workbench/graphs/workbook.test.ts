import { expect, it } from 'vitest'
import { read, utils } from 'xlsx'
import { workbook } from './workbook.ts'

it('a workbook is read with the same numbers and texts by another program, and no text is a formula', async () => {
  const rows = [
    ['frame', '=1+1', '+2', '-3', '@4'],
    [0, Math.PI, -1.5e-12, null, 6.02214076e23],
    [1, 0.1 + 0.2, 1 / 3, 12345678.9012345, 0],
  ]
  const blob = await workbook([
    { name: 'Motion', rows },
    { name: 'How it was measured', rows: [['title', '=HYPERLINK("https://x")']] },
  ])
  const book = read(new Uint8Array(await blob.arrayBuffer()), { cellFormula: true })
  expect(book.SheetNames).toEqual(['Motion', 'How it was measured'])
  expect(utils.sheet_to_json(book.Sheets.Motion, { header: 1, defval: null })).toEqual(rows)
  for (const sheet of Object.values(book.Sheets))
    for (const cell of Object.values(sheet) as { f?: string }[]) expect(cell.f).toBeUndefined()
  expect(book.Sheets['How it was measured'].B1.v).toBe('=HYPERLINK("https://x")')
})
