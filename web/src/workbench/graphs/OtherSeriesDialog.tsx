import type { GraphDescription } from '@apokinema/core/graphs'
import { edits, type Investigation, inOrder, MOST_POINTS } from '@apokinema/core/investigation'
import { areAlike, motionTable, quantitiesOf } from '@apokinema/core/motion'
import { Button, CloseButton, Dialog, NativeSelect, Portal, Stack, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { v4 as uuid } from 'uuid'
import { client } from '../../api/client.ts'
import { useSession } from '../../document/SessionContext.tsx'

/** Lays what a body of another investigation did over a graph, as it is there now. */
export function OtherSeriesDialog({ graph, description }: { graph: string; description: GraphDescription }) {
  return (
    <Dialog.Root size="sm" lazyMount unmountOnExit>
      <Dialog.Trigger asChild>
        <Button size="2xs" variant="outline">
          Another investigation …
        </Button>
      </Dialog.Trigger>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content onKeyDown={(event) => event.stopPropagation()}>
            <Dialog.Header>
              <Dialog.Title>A series of another investigation</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Choosing graph={graph} description={description} />
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}

function Choosing({ graph, description }: { graph: string; description: GraphDescription }) {
  const session = useSession()
  const list = useQuery({ queryKey: ['investigations'], queryFn: () => client.list() })
  const [chosen, setChosen] = useState('')
  const opened = useQuery({
    queryKey: ['investigation', chosen],
    queryFn: () => client.open(chosen),
    enabled: chosen !== '',
  })
  const others = (list.data ?? []).filter(({ id }) => id !== session.id)
  if (list.isPending) return <Text color="ink.muted">Looking for them …</Text>
  if (others.length === 0) return <Text>There is no other investigation yet.</Text>
  return (
    <Stack gap="3">
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          aria-label="Investigation"
          value={chosen}
          onChange={({ target }) => setChosen(target.value)}
        >
          <option value="">choose one …</option>
          {others.map(({ id, title }) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {opened.data && <Bodies document={opened.data.document} graph={graph} description={description} />}
    </Stack>
  )
}

/** Series of another investigation that have the unit of the graph: a click lays one over it. */
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
    const table = motionTable(document, id)
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
                'lay a series over the graph',
                edits.addOverlay(uuid(), graph, {
                  name: `${document.title}: ${one.name.toLowerCase()} of ${body.name}`.slice(0, 200),
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
