import { describe, expect, it } from 'vitest'
import { full } from '../testing/built.ts'
import { edit, edits, framesInUse } from './index.ts'

describe('frames in use', () => {
  it('follow span and repeats', () => {
    const document = full()
    expect(framesInUse(document).list.slice(0, 3)).toEqual([10, 12, 14])
    const kept = edit(document, edits.setRepeats({ frames: [12, 999], use: 'keep', originalRate: null }))
    expect(framesInUse(kept.document).has(12)).toBe(true)
    const out = edit(document, edits.setRepeats({ frames: [12], use: 'leave-out', originalRate: null }))
    expect(framesInUse(out.document).list.slice(0, 3)).toEqual([10, 14, 16])
  })
})
