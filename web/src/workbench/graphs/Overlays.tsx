import { bestOffset, type GraphDescription, lowered } from '@apokinema/core/graphs'
import { edits, type Graph, inOrder, type Overlay } from '@apokinema/core/investigation'
import { significant } from '@apokinema/core/units'
import { Box, Button, CloseButton, Flex, HStack, Stack, Text } from '@chakra-ui/react'
import { notify } from '../../common/messages.tsx'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useSession } from '../../document/SessionContext.tsx'
import { OtherDataDialog } from './OtherDataDialog.tsx'
import { TableSeriesDialog } from './TableSeriesDialog.tsx'

/** Data from elsewhere on a graph, their offsets in time, and buttons to add more. */
export function Overlays({
  id,
  graph,
  description,
}: {
  id: string
  graph: Graph
  description: GraphDescription
}) {
  return (
    <Stack gap="1" borderTop="1px solid" borderColor="line" paddingTop="2">
      <Text fontSize="small" color="ink.muted">
        From elsewhere
      </Text>
      {inOrder(graph.overlays).map(([key, overlay]) => (
        <Known key={key} id={key} graph={id} overlay={overlay} description={description} />
      ))}
      <HStack gap="1">
        <TableSeriesDialog graph={id} description={description} />
        <OtherDataDialog graph={id} description={description} />
      </HStack>
    </Stack>
  )
}

function Known({
  id,
  graph,
  overlay: { name, times, values, offset },
  description,
}: {
  id: string
  graph: string
  overlay: Overlay
  description: GraphDescription
}) {
  const session = useSession()
  const move = (seconds: number) =>
    session.edit('move a series in time', edits.moveOverlay(id, graph, seconds))
  const match = () => {
    const [{ table, column }] = description.series
    const still = {
      times: column.rows.map((row) => table.times[row]),
      values: column.rows.map((row) => column.values[row]),
    }
    const found = bestOffset(still, { times, values })
    if (found === null) notify('No matching section found. Drag the series into place.')
    else move(found)
  }
  return (
    <Box>
      <Flex align="center" gap="2">
        <Text flex="1" truncate fontSize="small" title={name}>
          {name}
        </Text>
        <CloseButton
          size="2xs"
          aria-label={`Take ${lowered(name)} away`}
          onClick={() => session.edit('take a series away', edits.removeOverlay(id, graph))}
        />
      </Flex>
      <HStack gap="2" align="flex-end">
        <TextField
          label="moved by, s"
          value={significant(offset, 5).replace('−', '-')}
          inputMode="decimal"
          onCommit={(text) => {
            const seconds = parseNumber(text)
            if (seconds === null) return 'Seconds.'
            move(seconds)
            return null
          }}
        />
        <Button size="2xs" variant="outline" flex="none" onClick={match}>
          Best match
        </Button>
      </HStack>
    </Box>
  )
}
