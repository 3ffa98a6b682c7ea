import { edit, type Mutator, newInvestigation, plainText, type Reported } from '@apokinema/core/investigation'
import type { Editor } from '@tiptap/core'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { ReportSession } from '../source.ts'
import { editorContent } from './convert.ts'
import { Writing } from './writing.ts'

const PARAGRAPH = 'c0000000-0000-4000-8000-000000000001'

/** Returns somebody who types into one paragraph, the names of the undo steps of each edit, and what the session is told of writing. */
function setUp() {
  let document: Reported = newInvestigation('Kite over the pier')
  const steps: (string | undefined)[] = []
  const told: boolean[] = []
  const session = {
    get document() {
      return document
    },
    edit: (_: string, mutator: Mutator<Reported>, together?: string) => {
      document = edit(document, mutator).document
      steps.push(together)
    },
    noteWriting: (isWriting: boolean) => {
      if (told.at(-1) !== isWriting) told.push(isWriting)
    },
  } as ReportSession
  const writing = new Writing(session)
  let text = ''
  const block = () => ({
    kind: 'text' as const,
    style: 'paragraph' as const,
    indent: 0,
    inlines: [plainText(text)],
    order: 0,
    pin: null,
  })
  const type = () => {
    text += 'a'
    const [json] = editorContent({ [PARAGRAPH]: block() })
    const state = { doc: { children: [{ toJSON: () => json }] } }
    // Only asked what stands in it.
    writing.editor = { isEmpty: false, isDestroyed: false, state } as unknown as Editor
    writing.later()
  }
  const kept = () => document.report.blocks[PARAGRAPH]
  return { writing, type, block, kept, steps, told }
}

beforeEach(() => {
  vi.useFakeTimers()
  vi.stubGlobal('window', {})
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('what is written in a report', () => {
  it('is kept within a quarter of a second, also while keys go on', () => {
    const { type, block, kept } = setUp()
    type()
    vi.advanceTimersByTime(250)
    expect(kept()).toEqual(block())
    for (let key = 0; key < 3; key++) {
      vi.advanceTimersByTime(80)
      type()
    }
    vi.advanceTimersByTime(90)
    expect(kept()).toEqual(block())
  })

  it('counts as one stretch of writing until no key comes for a while, however many edits it makes', () => {
    const { type, steps, told } = setUp()
    for (let key = 0; key < 20; key++) {
      type()
      vi.advanceTimersByTime(100)
    }
    expect(steps.length).toBeGreaterThan(4)
    expect(new Set(steps).size).toBe(1)
    expect(told).toEqual([true])
    vi.advanceTimersByTime(500)
    expect(told).toEqual([true, false])
  })

  it('is kept at once, and no longer counts as being written, when the person leaves the page', () => {
    const { writing, type, block, kept, told } = setUp()
    type()
    vi.advanceTimersByTime(100)
    type()
    writing.commit()
    expect(kept()).toEqual(block())
    expect(told).toEqual([true, false])
    expect(vi.getTimerCount()).toBe(0)
  })

  it('stays ended when it was committed while the browser was not idle yet', () => {
    const idle: (() => void)[] = []
    const requestIdleCallback = (act: () => void) => idle.push(act)
    vi.stubGlobal('window', { requestIdleCallback })
    vi.stubGlobal('requestIdleCallback', requestIdleCallback)
    const { writing, type, told } = setUp()
    type()
    vi.advanceTimersByTime(100)
    type()
    vi.advanceTimersByTime(200)
    expect(idle).toHaveLength(1)
    writing.commit()
    idle[0]()
    expect(told).toEqual([true, false])
    expect(vi.getTimerCount()).toBe(0)
  })

  it('is another step of the undo history after a pause', () => {
    const { type, steps } = setUp()
    type()
    vi.advanceTimersByTime(900)
    type()
    vi.advanceTimersByTime(900)
    expect(new Set(steps).size).toBe(2)
  })
})
