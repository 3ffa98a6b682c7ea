import { type Run, type Shown, wordColumns } from '@apokinema/words/report/shown'
import { Fragment, type ReactNode } from 'react'

/** A table below its number and caption. */
export function TableFigure({
  table,
  pieces,
  gap,
}: {
  table: Extract<Shown, { kind: 'table' }>
  /** Shows pieces of text: the page and a file have their own ways with equations. */
  pieces: (runs: readonly Run[]) => ReactNode
  /** Returns what stands in front of a row, where a page begins; it shows the head again. */
  gap?: (row: number, headAgain: ReactNode) => ReactNode
}) {
  const { label, caption, head, rows } = table
  const areWords = wordColumns(table)
  const classOf = (column: number) => (areWords[column] ? 'words' : undefined)
  const headings = head.map((cell, i) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: columns have no other name
    <th key={i} scope="col" className={classOf(i)}>
      {pieces(cell)}
    </th>
  ))
  return (
    <>
      <figcaption>
        <b>{label}.</b> {caption}
      </figcaption>
      <table>
        <thead>
          <tr>{headings}</tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
            <Fragment key={i}>
              {gap?.(i, headings)}
              <tr>
                {row.map((cell, k) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: columns have no other name
                  <td key={k} className={classOf(k)}>
                    {cell}
                  </td>
                ))}
              </tr>
            </Fragment>
          ))}
        </tbody>
      </table>
    </>
  )
}
