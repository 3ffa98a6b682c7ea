import { ExpressionError } from '@apokinema/core/motion'
import { FitError } from '@apokinema/core/regression'
import { describe, expect, it } from 'vitest'
import { columnText, seriesText } from './columns.ts'
import { doubtText } from './doubts.ts'
import { expressionProblemText } from './expressionProblems.ts'
import { fitProblemText } from './fitProblems.ts'
import { problemText } from './problems.ts'
import { findingSubject, findingText } from './survey.ts'
import { suspectReasonText, suspectSizeText } from './suspects.ts'

/** The space before a unit. */
const SPACE = '\u00a0'

describe('sentences', () => {
  it('put values with their units into their places', () => {
    expect(suspectSizeText({ code: 'reference', name: 'pole', needed: 1.4002, stated: 1.54 })).toBe(
      `“pole” would have to be 1.400${SPACE}m long instead of 1.540${SPACE}m.`,
    )
    expect(suspectSizeText({ code: 'playback', factor: 7.98 })).toContain('7.98 times slower')
    expect(suspectSizeText({ code: 'playback', factor: 0.5 })).toContain('2.00 times faster')
    expect(suspectReasonText({ code: 'capture-rate-unset', rate: 240 })).toContain('240 frames per second')
    const blur = { code: 'motion-blur', grade: 'fair', speed: 22, metresPerSecond: 4, streak: 11 } as const
    expect(findingText(blur)).toContain(`a body at 4.0${SPACE}m/s smears over 11 px. Mark the middle`)
    expect(findingText({ ...blur, grade: 'good', metresPerSecond: null })).toMatch(
      /22 px per frame smears over 11 px\.$/,
    )
  })

  it('say one thing and many things each in its own way', () => {
    expect(doubtText({ code: 'few', spare: 1 })).toContain('is only one more point')
    expect(doubtText({ code: 'few', spare: 2 })).toContain('are only 2 more points')
    expect(doubtText({ code: 'few', spare: 0 })).toContain('as many parameters as points')
    expect(findingText({ code: 'times', grade: 'fair', uneven: 1 })).toContain('One frame comes')
    expect(findingText({ code: 'repeats', grade: 'poor', repeats: 3 })).toContain('3 frames repeat')
  })

  it('of the camera say whether it moved, and how that is undone', () => {
    const moved = { code: 'steadiness', grade: 'fair', shake: null, camera: 'zoomed' } as const
    expect(findingText(moved)).toBe('The camera turns and zooms: landmarks correct that, see its row.')
    expect(findingText({ ...moved, shake: 3.2, camera: 'still', grade: 'poor' })).toBe(
      'The background moves by 3.2 px. Every position has that error: lean the camera on something.',
    )
    expect(findingText({ ...moved, shake: 0.1, camera: 'still', grade: 'good' })).toBe(
      'The camera stands still.',
    )
    expect(findingSubject(moved)).toBe('Steadiness')
  })
})

describe('sentences about what can’t be computed', () => {
  it('say what is missing, and in which words it was asked', () => {
    expect(fitProblemText({ code: 'too-few-points', needed: 3, points: 2 })).toBe(
      'This fit needs at least 3 points at different times; there are 2.',
    )
    expect(fitProblemText({ code: 'too-few-points', needed: 1, points: 1 })).toBe(
      'This fit needs at least 1 point; there is 1.',
    )
    expect(expressionProblemText({ code: 'wrong-unit', found: '', wanted: 'm' })).toBe(
      'It comes out in a pure number, which is not m.',
    )
    expect(expressionProblemText({ code: 'unknown-name', name: 'x'.repeat(500) }).length).toBeLessThan(80)
    const problem = { code: 'circular', name: 'q', isDirect: true } as const
    expect(columnText({ missing: { code: 'definition', problem }, notes: [] })).toBe(
      '“q” is defined by itself: it stands in its own expression.',
    )
    expect(columnText({ missing: null, notes: [] })).toBeNull()
    expect(seriesText({ code: 'off-scale', points: 1 })).toBe('One point does not fit on these scales.')
  })

  it('tell errors of fits and of expressions apart', () => {
    expect(problemText(new FitError({ code: 'no-break' }))).toContain('no break')
    expect(problemText(new ExpressionError({ code: 'division-by-zero' }))).toContain('division by zero')
  })
})
