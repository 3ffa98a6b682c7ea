import { analyse } from '@apokinema/core/analysis'
import type { Investigation, ValueSource } from '@apokinema/core/investigation'
import { liveValue } from '@apokinema/core/report'
import { methodText } from './methodText.ts'
import { chronophotographFigure, frameFigure, graphFigure } from './showFigure.ts'
import { missing } from './shown.ts'
import {
  calculationComparisonResult,
  calculationResult,
  comparisonResult,
  fitResult,
  readingResult,
} from './showResult.ts'
import { shownTable } from './showTable.ts'
import type { ReportSubject } from './subject.ts'

/** Returns an investigation as what its report is written of. */
export function investigationSubject(document: Investigation): ReportSubject {
  const value = (source: ValueSource) => liveValue(document, source)
  const calculations = { document, value, calculations: () => analyse(document).calculations() }
  return {
    report: document.report,
    value,
    method: () => methodText(document),
    show(label, block) {
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
    },
  }
}
