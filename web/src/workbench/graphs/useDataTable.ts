import { analyse } from '@apokinema/core/analysis'
import { type Investigation, inOrder } from '@apokinema/core/investigation'
import {
  type DataTable,
  dataTable,
  type NameOf,
  PICTURE_COLUMNS,
  type QuantityInfo,
} from '@apokinema/core/motion'
import { useMemo } from 'react'
import { useShallow } from 'zustand/react/shallow'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useTable } from '../tableStore.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { quantityGroups } from './QuantitySelect.tsx'

/** Returns the name and unit of a column. */
function namesIn(investigation: Investigation): NameOf {
  return (id) => analyse(investigation).quantity(id) ?? { symbol: id, subscript: '', name: id }
}

/** Returns the columns that a body can have, in groups: its quantities, and its marks in the picture. */
export function columnGroups(
  investigation: Investigation,
  body: string,
): { name: string; quantities: Pick<QuantityInfo, 'id' | 'name'>[] }[] {
  return [
    ...quantityGroups(investigation, investigation.bodies[body]),
    {
      name: 'In the picture',
      quantities: PICTURE_COLUMNS.map((id) => ({ id, name: `Mark in the picture, ${id.slice(8)}` })),
    },
  ]
}

/** Returns the bodies in the table: the active one, or all. */
function useTableBodies(active: string): string[] {
  const { bodies } = useInvestigation()
  const all = useTable((state) => state.all)
  return all ? inOrder(bodies).map(([id]) => id) : [active]
}

/** Returns the data table in its present layout. */
export function useDataTable(active: string): DataTable {
  const investigation = useInvestigation()
  const bodies = useTableBodies(active)
  const columns = useTable((state) => state.columns)
  const even = useTable((state) => state.even)
  const selection = useWorkbench((state) => state.selection)
  const stretch = selection?.kind === 'stretch' ? investigation.stretches[selection.id] : undefined
  const key = bodies.join()
  const tables = useInvestigation(
    useShallow((now) => key.split(',').map((body) => analyse(now).shownTable(body))),
  )
  // A motion table is replaced when anything in it changes.
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above
  return useMemo(() => {
    const chosen = key.split(',').map((body, i) => {
      const has = new Set(
        columnGroups(investigation, body).flatMap(({ quantities }) => quantities.map(({ id }) => id)),
      )
      return {
        table: tables[i],
        columns: columns.filter((id) => has.has(id)),
      }
    })
    const [{ table }] = chosen
    const inside = table.frames.flatMap((frame, row) =>
      !stretch || (frame >= stretch.from && frame <= stretch.to) ? [table.times[row]] : [],
    )
    const range = { from: inside[0] ?? 0, to: inside.at(-1) ?? 0 }
    return dataTable(
      chosen,
      namesIn(investigation),
      even === null || inside.length < 2 ? null : { ...range, count: even },
    )
  }, [tables, key, columns, even, stretch])
}
