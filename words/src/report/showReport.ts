import { type Block, type ById, type Inline, inOrder } from '@apokinema/core/investigation'
import { valueText } from '@apokinema/core/report'
import { pinnedShown } from './pinnedShown.ts'
import { imageFigure } from './showFigure.ts'
import { NO_LONGER_THERE, type Run, type Shown, type ShownBlock } from './shown.ts'
import type { ReportSubject } from './subject.ts'

/** Kinds of blocks that are numbered, with their labels. */
const LABELS: Partial<Record<Block['kind'], string>> = {
  graph: 'Figure',
  frame: 'Figure',
  chronophotograph: 'Figure',
  image: 'Figure',
  motions: 'Figure',
  table: 'Table',
  trials: 'Table',
  equation: 'Equation',
}

/** Labels for each state of the blocks: every reference in a text asks for them. */
const labelsOf = new WeakMap<ById<Block>, ReadonlyMap<string, string>>()

/** Returns the label of each numbered block, such as "Figure 2", by its id. */
export function blockLabels(blocks: ById<Block>): ReadonlyMap<string, string> {
  const known = labelsOf.get(blocks) ?? numbered(blocks)
  labelsOf.set(blocks, known)
  return known
}

function numbered(blocks: ById<Block>): ReadonlyMap<string, string> {
  const counts = new Map<string, number>()
  return new Map(
    inOrder(blocks).flatMap(([id, { kind }]): [string, string][] => {
      const label = LABELS[kind]
      if (!label) return []
      const count = (counts.get(label) ?? 0) + 1
      counts.set(label, count)
      return [[id, `${label} ${count}`]]
    }),
  )
}

/** Shows blocks of one report. */
class Shower {
  private readonly labels: ReadonlyMap<string, string>

  constructor(private readonly subject: ReportSubject) {
    this.labels = blockLabels(subject.report.blocks)
  }

  /** Returns what a block shows, as its sources are now. */
  show(id: string, block: Block): Shown {
    const label = this.labels.get(id) ?? ''
    switch (block.kind) {
      case 'text':
        return { kind: 'text', style: block.style, indent: block.indent, runs: this.runs(block.inlines) }
      case 'equation':
        return { kind: 'equation', tex: block.tex, label }
      case 'image':
        return imageFigure(label, block)
      case 'method': {
        const facts = this.subject.method()
        return {
          kind: 'method',
          text: block.text ?? facts,
          hasChanged: block.text !== null && block.facts !== facts,
        }
      }
      case 'question':
        return { kind: 'question', question: block.question, answer: this.runs(block.answer) }
      case 'page-break':
        return { kind: 'page-break' }
      case 'unknown':
        return { kind: 'unknown' }
      default:
        return this.subject.show(label, block)
    }
  }

  /** Returns a pinned block with the number that it has now: the numbers of all blocks go on without a gap. */
  numbered(id: string, shown: Shown): Shown {
    const label = this.labels.get(id)
    return 'label' in shown && label !== undefined && shown.label !== label ? { ...shown, label } : shown
  }

  private runs(inlines: readonly Inline[]): Run[] {
    return inlines.map((inline): Run => {
      if (inline.kind === 'value') {
        const live = this.subject.value(inline.source)
        return {
          kind: 'value',
          text: live ? valueText(live, inline.format) : NO_LONGER_THERE,
          isMissing: live === null,
        }
      }
      if (inline.kind === 'reference') {
        const label = this.labels.get(inline.block)
        return {
          kind: 'reference',
          block: inline.block,
          text: label ?? NO_LONGER_THERE,
          isMissing: label === undefined,
        }
      }
      return inline
    })
  }
}

/** Returns what all blocks of a report show, in order: pinned ones as they were, the others as their sources are now. */
export function showReport(subject: ReportSubject): ShownBlock[] {
  const shower = new Shower(subject)
  return inOrder(subject.report.blocks).map(([id, block]) => {
    const pinned = pinnedShown(block)
    return {
      id,
      pinned: pinned && block.pin!.at,
      shown: pinned ? shower.numbered(id, pinned) : shower.show(id, block),
    }
  })
}

/** Returns what one block shows as its sources are now, whether it is pinned or not; null if it is gone. */
export function showBlock(subject: ReportSubject, id: string): Shown | null {
  const block = subject.report.blocks[id]
  return block ? new Shower(subject).show(id, block) : null
}
