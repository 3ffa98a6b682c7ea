import { analyse } from '@apokinema/core/analysis'
import type { GraphDescription } from '@apokinema/core/graphs'
import { cutText, edits, type Investigation, inOrder, MOST_POINTS } from '@apokinema/core/investigation'
import { areAlike, quantitiesOf } from '@apokinema/core/motion'
import { Button, Dialog, Stack, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { v4 as uuid } from 'uuid'
import { investigationQuery } from '../../api/queries.ts'
import { Select } from '../../common/Select.tsx'
import { Window } from '../../common/Window.tsx'
import { useSession } from '../../document/SessionContext.tsx'
import { useInvestigations } from '../../investigations/useInvestigations.ts'

/** Overlays a curve of another investigation, as it is at present. */
export function OtherDataDialog({ graph, description }: { graph: string; description: GraphDescription }) {
  return (
    <Window
      title="A curve of another investigation"
      size="sm"
      button={
        <Button size="2xs" variant="outline">
          Another investigation …
        </Button>
      }
    >
      <Dialog.Body>
        <Choosing graph={graph} description={description} />
      </Dialog.Body>
    </Window>
  )
}

function Choosing({ graph, description }: { graph: string; description: GraphDescription }) {
  const session = useSession()
  const list = useInvestigations()
  const [chosen, setChosen] = useState('')
  const opened = useQuery({ ...investigationQuery(chosen), enabled: chosen !== '' })
  const others = (list.all ?? []).filter(({ id, summary }) => id !== session.id && summary)
  if (list.isPending) return <Text color="ink.muted">Looking for them …</Text>
  if (others.length === 0) return <Text>There is no other investigation yet.</Text>
  return (
    <Stack gap="3">
      <Select
        label="Investigation"
        size="sm"
        value={chosen}
        options={[['', 'choose one …'], ...others.map(({ id, title }) => [id, title] as const)]}
        choose={setChosen}
      />
      {list.hasNextPage && (
        <Button size="xs" variant="outline" alignSelf="flex-start" onClick={() => void list.fetchNextPage()}>
          Offer older ones, too
        </Button>
      )}
      {opened.data && <Bodies document={opened.data.document} graph={graph} description={description} />}
    </Stack>
  )
}

/** Curves of another investigation in the graph's unit; a click overlays one. */
function Bodies({
  document,
  graph,
  description: {
    series: [{ quantity }],
  },
}: {
  document: Investigation
  graph: string
  description: GraphDescription
}) {
  const session = useSession()
  const offered = inOrder(document.bodies).flatMap(([id, body]) => {
    const table = analyse(document).table(id)
    return quantitiesOf(body, Object.keys(document.bodies).length)
      .filter(({ dimension }) => areAlike(dimension, quantity.dimension))
      .flatMap((one) => {
        const { rows, values } = table.column(one.id)
        return rows.length > 1 && table.length === 'm' ? [{ id, body, one, table, rows, values }] : []
      })
  })
  if (offered.length === 0)
    return <Text color="ink.muted">Nothing in it has this unit: it may have no marks, or no scale.</Text>
  return (
    <Stack gap="1">
      {offered.map(({ id, body, one, table, rows, values }) => (
        <Dialog.CloseTrigger asChild key={id + one.id} position="static">
          <Button
            size="xs"
            variant="outline"
            justifyContent="flex-start"
            onClick={() => {
              const some = rows.slice(0, MOST_POINTS)
              session.edit(
                'lay a curve over the graph',
                edits.addOverlay(uuid(), graph, {
                  name: cutText(`${document.title}: ${one.name.toLowerCase()} of ${body.name}`, 200),
                  times: some.map((row) => table.times[row]),
                  values: some.map((row) => values[row]),
                  offset: 0,
                }),
              )
            }}
          >
            {body.name}: {one.name.toLowerCase()}
          </Button>
        </Dialog.CloseTrigger>
      ))}
    </Stack>
  )
}
