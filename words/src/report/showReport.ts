import {
  type Block,
  type ById,
  type Inline,
  type Investigation,
  inOrder,
} from '@apokinema/core/investigation'
import { liveValue, valueText } from '@apokinema/core/report'
import { methodText } from './methodText.ts'
import { pinnedShown } from './pinnedShown.ts'
import { chronophotographFigure, frameFigure, graphFigure, imageFigure } from './showFigure.ts'
import { NO_LONGER_THERE, type Run, type Shown, type ShownBlock } from './shown.ts'
import {
  calculationComparisonResult,
  calculationResult,
  comparisonResult,
  fitResult,
  readingResult,
} from './showResult.ts'
import { shownTable } from './showTable.ts'

/** Kinds of blocks that are numbered, with their labels. */
const LABELS: Partial<Record<Block['kind'], string>> = {
  graph: 'Figure',
  frame: 'Figure',
  chronophotograph: 'Figure',
  image: 'Figure',
  table: 'Table',
  equation: 'Equation',
}

/** Labels for each state of the blocks: every reference in a text asks for them. */
const labelsOf = new WeakMap<ById<Block>, ReadonlyMap<string, string>>()

/** Returns the label of each numbered block, such as "Figure 2", by its id. */
export function blockLabels({ report: { blocks } }: Investigation): ReadonlyMap<string, string> {
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

/** Shows blocks of one document. */
class Shower {
  private readonly labels: ReadonlyMap<string, string>

  constructor(private readonly document: Investigation) {
    this.labels = blockLabels(document)
  }

  /** Returns what a block shows, as its sources are now. */
  show(id: string, block: Block): Shown {
    const { document } = this
    const label = this.labels.get(id) ?? ''
    switch (block.kind) {
      case 'text':
        return { kind: 'text', style: block.style, indent: block.indent, runs: this.runs(block.inlines) }
      case 'equation':
        return { kind: 'equation', tex: block.tex, label }
      case 'graph':
        return graphFigure(document, label, block)
      case 'frame':
        return frameFigure(document, label, block)
      case 'chronophotograph':
        return chronophotographFigure(document, label, block)
      case 'image':
        return imageFigure(label, block)
      case 'fit':
        return fitResult(document, block)
      case 'reading':
        return readingResult(document, block)
      case 'comparison':
        return comparisonResult(document, block)
      case 'calculation-comparison':
        return calculationComparisonResult(document, block)
      case 'calculation':
        return calculationResult(document, block)
      case 'table':
        return shownTable(document, label, block)
      case 'method': {
        const facts = methodText(document)
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
        const live = liveValue(this.document, inline.source)
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
export function showReport(document: Investigation): ShownBlock[] {
  const shower = new Shower(document)
  return inOrder(document.report.blocks).map(([id, block]) => {
    const pinned = pinnedShown(block)
    return {
      id,
      pinned: pinned && block.pin!.at,
      shown: pinned ? shower.numbered(id, pinned) : shower.show(id, block),
    }
  })
}

/** Returns what one block shows as its sources are now, whether it is pinned or not; null if it is gone. */
export function showBlock(document: Investigation, id: string): Shown | null {
  const block = document.report.blocks[id]
  return block ? new Shower(document).show(id, block) : null
}
