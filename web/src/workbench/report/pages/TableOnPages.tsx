import type { Shown } from '@apokinema/words/report/shown'
import { Runs } from '../blocks/Runs.tsx'
import { TableFigure } from '../blocks/TableFigure.tsx'
import { fitGap, usePageLayout } from './pageGaps.ts'

/** A table of the page, which may go on on the next one. */
export function TableOnPages({ id, table }: { id: string; table: Extract<Shown, { kind: 'table' }> }) {
  const gaps = usePageLayout(({ tables }) => tables.get(id))
  return (
    <TableFigure
      table={table}
      pieces={(runs) => <Runs runs={runs} />}
      gap={(row, headAgain) => {
        const gap = gaps?.get(row)
        return (
          gap && (
            <>
              {/* biome-ignore lint/a11y/noAriaHiddenOnFocusable: a row takes no focus */}
              <tr className="page-gap-row" aria-hidden="true">
                <td colSpan={table.head.length}>
                  <div className="page-gap" ref={(element) => fitGap(element, gap)} />
                </td>
              </tr>
              {/* biome-ignore lint/a11y/noAriaHiddenOnFocusable: a row takes no focus */}
              <tr className="page-gap-row head-again" aria-hidden="true">
                {headAgain}
              </tr>
            </>
          )
        )
      }}
    />
  )
}
