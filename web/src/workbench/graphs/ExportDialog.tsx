import { CSV_COLUMNS, type CsvColumn, fileNameOf, motionCsv } from '@apokinema/core/formats'
import { type MotionTable, QUANTITIES, quantitiesOf } from '@apokinema/core/motion'
import { Box, Button, Checkbox, CloseButton, Dialog, Portal, Stack, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { tell } from '../../common/messages.tsx'
import { useInvestigation } from '../../document/SessionContext.tsx'

/** Chooses columns and gives the motion table as CSV, to a file or to the clipboard. */
export function ExportDialog({ table, body }: { table: MotionTable; body: string }) {
  const investigation = useInvestigation()
  const [chosen, setChosen] = useState<CsvColumn[]>(['frame', 't', 'x', 'y', 'vx', 'vy'])
  const has = new Set<CsvColumn>(quantitiesOf(investigation.bodies[body]).map(({ id }) => id))
  const offered = CSV_COLUMNS.filter(({ id }) => has.has(id) || !(id in QUANTITIES))
  const several = Object.keys(investigation.bodies).length > 1
  const csv = motionCsv(table, chosen, several ? investigation.bodies[body].name : undefined)
  const preview = csv.split('\r\n').slice(0, 4).join('\n')

  const download = () => {
    const address = URL.createObjectURL(new Blob([csv], { type: 'text/csv;charset=utf-8' }))
    const link = document.createElement('a')
    link.href = address
    link.download = fileNameOf(investigation, 'csv')
    link.click()
    URL.revokeObjectURL(address)
  }
  const copy = () =>
    navigator.clipboard.writeText(csv).then(
      () => tell('The table is on the clipboard.'),
      () => tell('This browser does not let pages use the clipboard here. Download the file instead.'),
    )
  const toggle = (id: CsvColumn, on: boolean) =>
    setChosen(
      CSV_COLUMNS.map((column) => column.id).filter((other) => (other === id ? on : chosen.includes(other))),
    )

  return (
    <Dialog.Root size="md">
      <Dialog.Trigger asChild>
        <Button size="xs" variant="outline" bg="panel">
          Export
        </Button>
      </Dialog.Trigger>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content>
            <Dialog.Header>
              <Dialog.Title>Export the motion of {investigation.bodies[body].name}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Text marginBottom="2">As CSV, with all digits. Columns:</Text>
              <Stack gap="1">
                {offered.map(({ id, name }) => (
                  <Checkbox.Root
                    key={id}
                    size="sm"
                    colorPalette="brand"
                    checked={chosen.includes(id)}
                    onCheckedChange={(event) => toggle(id, event.checked === true)}
                  >
                    <Checkbox.HiddenInput />
                    <Checkbox.Control />
                    <Checkbox.Label fontWeight="400">{name}</Checkbox.Label>
                  </Checkbox.Root>
                ))}
              </Stack>
              <Box
                as="pre"
                marginTop="3"
                padding="2"
                bg="paper"
                border="1px solid"
                borderColor="line"
                borderRadius="6px"
                fontFamily="mono"
                fontSize="12px"
                overflowX="auto"
                data-csv-preview
              >
                {preview}
              </Box>
            </Dialog.Body>
            <Dialog.Footer>
              <Button variant="outline" disabled={chosen.length === 0} onClick={() => void copy()}>
                Copy
              </Button>
              <Button colorPalette="brand" disabled={chosen.length === 0} onClick={download}>
                Download CSV
              </Button>
            </Dialog.Footer>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
