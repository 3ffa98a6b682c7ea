import type { Block, Report, ValueSource } from '@apokinema/core/investigation'
import type { LiveValue } from '@apokinema/core/report'
import type { Shown } from './shown.ts'

/** Kinds of blocks that show the same whatever the report is written of. */
type PlainKind = 'text' | 'equation' | 'image' | 'method' | 'question' | 'page-break' | 'unknown'

/** A block that shows something of what the report is written of. */
export type SourcedBlock = Exclude<Block, { kind: PlainKind }>

/** What a report is written of, as its blocks and its live values ask for it. */
export interface ReportSubject {
  report: Report
  /** Returns the present value of a source; null if it is gone, or has no value. */
  value(source: ValueSource): LiveValue | null
  /** Returns how it was measured, written from the facts. */
  method(): string
  /**
   * Returns what a block shows, as its source is now.
   *
   * @param label number of a figure or table, such as "Figure 2"; empty for other blocks
   */
  show(label: string, block: SourcedBlock): Shown
}
