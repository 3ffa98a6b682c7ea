import { type ReadTable, readTable, seriesOf } from '@apokinema/core/formats'
import type { GraphDescription } from '@apokinema/core/graphs'
import { cleanTitle, edits, MOST_POINTS } from '@apokinema/core/investigation'
import { areAlike } from '@apokinema/core/motion'
import { parseUnit } from '@apokinema/core/units'
import { Box, Button, Dialog, HStack, Stack, Text } from '@chakra-ui/react'
import Papa from 'papaparse'
import { useRef, useState } from 'react'
import { v4 as uuid } from 'uuid'
import { Select } from '../../common/Select.tsx'
import { TextField } from '../../common/TextField.tsx'
import { Window } from '../../common/Window.tsx'
import { useSession } from '../../document/SessionContext.tsx'

/** A file whose columns are to be matched. */
interface Opened {
  name: string
  table: ReadTable
}

/**
 * Reads a text file as a table: only as many rows as a series can have, however large the file is. Returns a message
 * if it does not contain two columns of numbers.
 */
function openTable(file: File): Promise<Opened | string> {
  return new Promise((resolve) => {
    const rows: string[][] = []
    let separator = ','
    Papa.parse<string[]>(file, {
      skipEmptyLines: true,
      chunkSize: 262_144,
      chunk: ({ data, meta }, parser) => {
        separator = meta.delimiter
        for (const row of data) rows.push(row.slice(0, 64))
        if (rows.length > MOST_POINTS + 1) parser.abort()
      },
      complete: () => {
        const table = readTable(rows, separator)
        resolve(
          table.columns.length < 2
            ? 'There are no two columns of numbers in this file: one of times and one of values are needed. Nothing was changed.'
            : { name: file.name, table },
        )
      },
      error: (error) => resolve(`This file can’t be read: ${error.message} Nothing was changed.`),
    })
  })
}

/** Overlays a series from a table, such as the log of a motion sensor. */
export function TableSeriesDialog({ graph, description }: { graph: string; description: GraphDescription }) {
  const input = useRef<HTMLInputElement>(null)
  const [opened, setOpened] = useState<Opened | string | null>(null)
  return (
    <>
      <Button size="2xs" variant="outline" onClick={() => input.current?.click()}>
        A table …
      </Button>
      <input
        ref={input}
        type="file"
        accept=".csv,.tsv,.txt,text/csv,text/plain"
        hidden
        aria-label="Table with times and values"
        onChange={({ target }) => {
          const file = target.files?.[0]
          if (file) void openTable(file).then(setOpened)
          target.value = ''
        }}
      />
      <Window title="A series from a table" open={opened !== null} close={() => setOpened(null)}>
        {typeof opened === 'string' && (
          <Dialog.Body>
            <Text role="alert">{opened}</Text>
          </Dialog.Body>
        )}
        {opened !== null && typeof opened !== 'string' && (
          <Matching opened={opened} graph={graph} description={description} done={() => setOpened(null)} />
        )}
      </Window>
    </>
  )
}

/** Matches columns to time and values, with their unit. */
function Matching({
  opened: { name, table },
  graph,
  description: {
    y: yAxis,
    series: [{ quantity, column }],
  },
  done,
}: {
  opened: Opened
  graph: string
  description: GraphDescription
  done: () => void
}) {
  const session = useSession()
  const [time, setTime] = useState(0)
  const [value, setValue] = useState(1)
  const [unit, setUnit] = useState(column.unit)
  const series = seriesOf(table.columns[time], table.columns[value])
  const isOwn = quantity.unit !== undefined
  const parsed = isOwn ? { dimension: quantity.dimension, factor: 1 } : parseUnit(unit)
  const isFitting = parsed !== null && areAlike(parsed.dimension, quantity.dimension)
  const add = () => {
    if (!isFitting) return
    session.edit(
      'lay a curve over the graph',
      edits.addOverlay(uuid(), graph, {
        name: cleanTitle(`${name}, ${table.heads[value]}`, 200),
        times: series.times,
        values: series.values.map((one) => one * parsed.factor),
        offset: 0,
      }),
    )
    done()
  }
  return (
    <>
      <Dialog.Body>
        <Stack gap="3">
          <HStack gap="3" align="flex-end">
            <ColumnSelect label="Times, in seconds" heads={table.heads} chosen={time} set={setTime} />
            <ColumnSelect label={yAxis.name} heads={table.heads} chosen={value} set={setValue} />
            {!isOwn && (
              <Box width="6rem">
                <TextField
                  label="in"
                  value={unit}
                  onCommit={(text) => {
                    const typed = parseUnit(text)
                    if (!typed || !areAlike(typed.dimension, quantity.dimension))
                      return `A unit such as ${column.unit}.`
                    setUnit(text)
                    return null
                  }}
                />
              </Box>
            )}
          </HStack>
          <Text fontSize="small" color="ink.muted">
            {series.times.length} points
            {series.times.length > 0 &&
              `, from ${series.times[0]} s to ${series.times[series.times.length - 1]} s`}
            {table.more && `; the file has more than ${MOST_POINTS} rows, the first of them are taken`}.
          </Text>
        </Stack>
      </Dialog.Body>
      <Dialog.Footer>
        <Button colorPalette="brand" disabled={!isFitting || series.times.length < 2} onClick={add}>
          Lay it over the graph
        </Button>
      </Dialog.Footer>
    </>
  )
}

function ColumnSelect({
  label,
  heads,
  chosen,
  set,
}: {
  label: string
  heads: readonly string[]
  chosen: number
  set(index: number): void
}) {
  return (
    <Box flex="1">
      <Text fontSize="small" color="ink.muted" marginBottom="1">
        {label}
      </Text>
      <Select
        label={label}
        value={String(chosen)}
        options={heads.map((head, index) => [String(index), head] as const)}
        choose={(index) => set(Number(index))}
      />
    </Box>
  )
}
