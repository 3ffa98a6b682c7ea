import type { ValueSource } from '@apokinema/core/investigation'
import type { LiveValue } from '@apokinema/core/report'
import type { Shown } from './shown.ts'
import type { ReportSubject, SourcedBlock } from './subject.ts'

/** What a subject says of its sources. */
type Answers = Omit<ReportSubject, 'report'>

const known = new WeakMap<object, Answers>()

/**
 * Returns answers that work out each value and each block once: while a report is written, its sources stay as they are.
 *
 * @param state of what was measured: one object for as long as only the report is edited
 * @param work works them out
 */
export function workedOutOnce(state: object, work: Answers): Answers {
  const before = known.get(state)
  if (before) return before
  const values = new WeakMap<ValueSource, LiveValue | null>()
  const blocks = new WeakMap<SourcedBlock, { label: string; shown: Shown }>()
  let method: string | null = null
  const once: Answers = {
    value(source) {
      const found = values.get(source)
      if (found !== undefined) return found
      const value = work.value(source)
      values.set(source, value)
      return value
    },
    method: () => (method ??= work.method()),
    show(label, block) {
      const found = blocks.get(block)
      if (found?.label === label) return found.shown
      const shown = work.show(label, block)
      blocks.set(block, { label, shown })
      return shown
    },
  }
  known.set(state, once)
  return once
}
