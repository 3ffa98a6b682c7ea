import { edits, inOrder } from '@apokinema/core/investigation'
import { NativeSelect } from '@chakra-ui/react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'

/** The axes that a graph is measured in, where several are kept. */
export function AxesChoice({ id, axes }: { id: string; axes: string | null }) {
  const session = useSession()
  const investigation = useInvestigation()
  const sets = inOrder(investigation.axes)
  if (sets.length < 2) return null
  return (
    <NativeSelect.Root size="xs" width="9rem">
      <NativeSelect.Field
        aria-label="Axes of this graph"
        value={axes ?? ''}
        onChange={(event) =>
          session.edit(
            'measure a graph in other axes',
            edits.changeGraph(id, { axes: event.target.value || null }),
          )
        }
      >
        <option value="">in the main axes</option>
        {sets.map(([set, { name }]) => (
          <option key={set} value={set}>
            in {name}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}
