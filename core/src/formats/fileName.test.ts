import { expect, it } from 'vitest'
import { fileNameOf } from './fileName.ts'

it('is made of a title, with nothing that a file system refuses', () => {
  expect(fileNameOf({ title: 'a/b\\c:d*e?f"g<h>i|j\nk' }, 'md')).toBe('a b c d e f g h i j k.md')
  expect(fileNameOf({ title: ' // ' }, 'csv')).toBe('investigation.csv')
  expect(fileNameOf({ title: 'x'.repeat(500) }, '')).toHaveLength(81)
})
