import { analyse } from '@apokinema/core/analysis'
import type { Investigation, ValueSource } from '@apokinema/core/investigation'
import { type LiveValue, liveValue } from '@apokinema/core/report'
import { methodText } from './methodText.ts'
import { chronophotographFigure, frameFigure, graphFigure } from './showFigure.ts'
import { missing, type Shown } from './shown.ts'
import {
  calculationComparisonResult,
  calculationResult,
  comparisonResult,
  fitResult,
  readingResult,
} from './showResult.ts'
import { shownTable } from './showTable.ts'
import type { ReportSubject, SourcedBlock } from './subject.ts'

/** What follows from a measurement for the blocks and values of its report. */
interface Followed {
  method: string | null
  values: WeakMap<ValueSource, LiveValue | null>
  blocks: WeakMap<SourcedBlock, { label: string; shown: Shown }>
}

/** For each state of a measurement: while its report is written, nothing of it is worked out again. */
const followed = new WeakMap<Investigation, Followed>()

/**
 * Returns an investigation as what its report is written of.
 *
 * @param measured the same but for the report: one object for as long as only that is edited
 */
export function investigationSubject({ report }: Investigation, measured: Investigation): ReportSubject {
  const known: Followed = followed.get(measured) ?? {
    method: null,
    values: new WeakMap(),
    blocks: new WeakMap(),
  }
  followed.set(measured, known)
  const value = (source: ValueSource) => {
    const before = known.values.get(source)
    if (before !== undefined) return before
    const found = liveValue(measured, source)
    known.values.set(source, found)
    return found
  }
  return {
    report,
    value,
    method: () => (known.method ??= methodText(measured)),
    show(label, block) {
      const before = known.blocks.get(block)
      if (before?.label === label) return before.shown
      const shown = shownBlock(measured, value, label, block)
      known.blocks.set(block, { label, shown })
      return shown
    },
  }
}

function shownBlock(
  document: Investigation,
  value: ReportSubject['value'],
  label: string,
  block: SourcedBlock,
): Shown {
  const calculations = { document, value, calculations: () => analyse(document).calculations() }
  switch (block.kind) {
    case 'graph':
      return graphFigure(document, label, block)
    case 'frame':
      return frameFigure(document, label, block)
    case 'chronophotograph':
      return chronophotographFigure(document, label, block)
    case 'fit':
      return fitResult(document, block)
    case 'reading':
      return readingResult(document, block)
    case 'comparison':
      return comparisonResult(document, block)
    case 'calculation-comparison':
      return calculationComparisonResult(calculations, block)
    case 'calculation':
      return calculationResult(calculations, block)
    case 'table':
      return shownTable(document, label, block)
    case 'trials':
      return missing('table')
    case 'mean':
      return missing('mean')
    case 'motions':
      return missing('picture')
  }
}
