import { edits, inOrder } from '@apokinema/core/investigation'

import { Select } from '../../common/Select.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'

/** The axes of a graph, if there are several. */
export function AxesChoice({ id, axes }: { id: string; axes: string | null }) {
  const session = useSession()
  const sets = inOrder(useInvestigation((now) => now.axes))
  if (sets.length < 2) return null
  return (
    <Select
      label="Axes of this graph"
      width="9rem"
      value={axes ?? ''}
      options={[['', 'in the main axes'], ...sets.map(([set, { name }]) => [set, `in ${name}`] as const)]}
      choose={(set) =>
        session.edit('measure a graph in other axes', edits.changeGraph(id, { axes: set || null }))
      }
    />
  )
}
