import { analyse } from '@apokinema/core/analysis'
import type { Investigation, ValueSource } from '@apokinema/core/investigation'
import { liveValue } from '@apokinema/core/report'
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
import { workedOutOnce } from './workedOutOnce.ts'

/**
 * Returns an investigation as what its report is written of.
 *
 * @param measured the same but for the report: one object for as long as only that is edited
 */
export function investigationSubject({ report }: Investigation, measured: Investigation): ReportSubject {
  const value = (source: ValueSource) => liveValue(measured, source)
  return {
    report,
    ...workedOutOnce(measured, {
      value,
      method: () => methodText(measured),
      show: (label, block) => shownBlock(measured, value, label, block),
    }),
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
