import { type MotionTable, quantitiesOf } from '@apokinema/core/motion'
import { fixed, measurement, rounded } from '@apokinema/core/units'
import { Box, Button, Flex, Table, Text } from '@chakra-ui/react'
import { TriangleAlert } from 'lucide-react'
import { useState } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useCourse } from '../courses.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { ExportDialog } from './ExportDialog.tsx'
import { SymbolText } from './Quantities.tsx'

/** The data table, which slides up from the bottom, and the way out. */
export function DataBar({ body, table }: { body: string; table: MotionTable }) {
  const { bodies } = useInvestigation()
  const [open, setOpen] = useState(false)
  const frame = useWorkbench((state) => state.frame)
  const columns = quantitiesOf(bodies[body])
  const { strays } = useCourse(bodies[body])
  const suspicious = new Set(strays.map(({ frame }) => frame))
  return (
    <Box flex="none" bg="paper" borderTop="1px solid" borderColor="line">
      {open && (
        <Box maxHeight="240px" overflowY="auto" bg="panel" borderBottom="1px solid" borderColor="line">
          <Table.Root
            size="sm"
            stickyHeader
            fontSize="13px"
            fontFamily="mono"
            css={{ '& td, & th': { paddingBlock: '4px', background: 'transparent' } }}
          >
            <Table.Header>
              <Table.Row>
                <Table.ColumnHeader>frame</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="right">
                  <SymbolText symbol="t" subscript="" /> (s)
                </Table.ColumnHeader>
                {columns.map(({ id, symbol, subscript }) => (
                  <Table.ColumnHeader key={id} textAlign="right">
                    <SymbolText symbol={symbol} subscript={subscript} /> ({table.column(id).unit})
                  </Table.ColumnHeader>
                ))}
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {table.frames.map((index, row) => (
                <Table.Row
                  key={index}
                  cursor="pointer"
                  bg={index === frame ? '#FBF0D9' : undefined}
                  onClick={() => {
                    workbench.goTo(index)
                    workbench.select({ kind: 'mark', body, frame: index })
                  }}
                >
                  <Table.Cell whiteSpace="nowrap">
                    {index}
                    {table.until[row] > index && `–${table.until[row]}`}
                    {suspicious.has(index) && (
                      <Box
                        as="span"
                        display="inline-block"
                        marginLeft="2"
                        verticalAlign="-2px"
                        color="alarm"
                        role="img"
                        aria-label="suspicious: it lies off the course of the others"
                        title="suspicious: it lies off the course of the others"
                        data-stray-row={index}
                      >
                        <TriangleAlert size={14} />
                      </Box>
                    )}
                  </Table.Cell>
                  <Table.Cell textAlign="right">{fixed(table.times[row], 4)}</Table.Cell>
                  {columns.map(({ id }) => {
                    const { values, errors, unit, note } = table.column(id)
                    const value = values[row]
                    return (
                      <Table.Cell
                        key={id}
                        textAlign="right"
                        title={Number.isNaN(value) ? (note ?? '') : measurement(value, errors[row], unit)}
                      >
                        {rounded(value, errors[row])}
                      </Table.Cell>
                    )
                  })}
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Box>
      )}
      <Flex height="11" align="center" gap="3" paddingX="4">
        <Button size="xs" variant="ghost" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'Hide the table' : 'Table'}
        </Button>
        <Text color="ink.muted" fontSize="13px" truncate>
          {bodies[body].name} · {table.frames.length === 1 ? '1 row' : `${table.frames.length} rows`}
        </Text>
        <Box flex="1" />
        <ExportDialog table={table} body={body} />
      </Flex>
    </Box>
  )
}
