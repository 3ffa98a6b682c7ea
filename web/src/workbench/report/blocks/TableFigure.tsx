import type { Run, Shown } from '@apokinema/words/report/shown'
import type { ReactNode } from 'react'

/** A table below its number and caption. */
export function TableFigure({
  table: { label, caption, head, rows },
  pieces,
}: {
  table: Extract<Shown, { kind: 'table' }>
  /** Shows pieces of text: the page and a file have their own ways with equations. */
  pieces: (runs: readonly Run[]) => ReactNode
}) {
  return (
    <>
      <figcaption>
        <b>{label}.</b> {caption}
      </figcaption>
      <table>
        <thead>
          <tr>
            {head.map((cell, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: columns have no other name
              <th key={i} scope="col">
                {pieces(cell)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
            <tr key={i}>
              {row.map((cell, k) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: columns have no other name
                <td key={k}>{cell}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}
