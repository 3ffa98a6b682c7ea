import { describe, expect, it } from 'vitest'
import { full } from '../testing/built.ts'
import { summarise } from './index.ts'

describe('an investigation', () => {
  it('is summed up for its card', () => {
    expect(summarise(full())).toEqual({
      footage: true,
      span: true,
      scale: true,
      axes: true,
      bodies: 1,
      marks: 2,
      fits: 1,
    })
  })
})
