import { type DelimitedOptions, delimited, fileNameOf, motionSheet, tableJson } from '@apokinema/core/formats'
import type { Investigation } from '@apokinema/core/investigation'
import type { DataTable } from '@apokinema/core/motion'
import { derivationText } from '@apokinema/words/derivatives'
import { factsSheet } from '@apokinema/words/facts'
import { Box, Button, Dialog, HStack, SegmentGroup, Stack, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { notify } from '../../common/messages.tsx'
import { saveFile } from '../../common/saveFile.ts'
import { TickBox } from '../../common/TickBox.tsx'
import { Window } from '../../common/Window.tsx'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { fitLines } from './fitLines.ts'

const FORMATS = ['CSV', 'TSV', 'XLSX', 'JSON'] as const
type Format = (typeof FORMATS)[number]

const WORDS: Record<Format, string> = {
  CSV: 'Text with a line a row, for any program.',
  TSV: 'Text with tabs between the columns.',
  XLSX: 'A workbook: the numbers with their errors, and a sheet that says how they were measured.',
  JSON: 'For programs of your own: with units, errors and how it was derived.',
}

/** Exports the data table to a file. */
export function ExportDialog({
  table,
  names,
}: {
  table: DataTable
  names: Readonly<Record<string, string>>
}) {
  const investigation = useInvestigation()
  const [format, setFormat] = useState<Format>('CSV')
  const [options, setOptions] = useState<TextFileOptions>({
    comma: false,
    byteOrderMark: false,
    errors: false,
    rounded: false,
  })
  const set = (change: Partial<typeof options>) => setOptions({ ...options, ...change })
  const isText = format === 'CSV' || format === 'TSV'
  const written: DelimitedOptions = {
    ...options,
    separator: format === 'TSV' ? '\t' : options.comma ? ';' : ',',
    decimalComma: options.comma,
  }
  const text = () =>
    format === 'JSON'
      ? tableJson(investigation, table, derivationText(investigation.derivation))
      : delimited(table, names, written)
  const preview = isText
    ? delimited({ ...table, frames: table.frames.slice(0, 3) }, names, { ...written, byteOrderMark: false })
    : format === 'JSON'
      ? `${text().slice(0, 420)} …`
      : null

  const download = async () =>
    saveFile(
      format === 'XLSX' ? await workbookOf(investigation, table) : new Blob([text()], { type: MIME[format] }),
      fileNameOf(investigation, format.toLowerCase()),
    )

  return (
    <Window
      title="Export the table"
      button={
        <Button size="xs" variant="outline" bg="panel">
          Export
        </Button>
      }
    >
      <Dialog.Body>
        <Stack gap="3">
          <SegmentGroup.Root
            size="sm"
            alignSelf="flex-start"
            value={format}
            onValueChange={({ value }) => setFormat(value as Format)}
          >
            <SegmentGroup.Indicator />
            <SegmentGroup.Items items={[...FORMATS]} />
          </SegmentGroup.Root>
          <Text fontSize="small" color="ink.muted">
            {WORDS[format]} Its columns and rows are those of the table below the graphs
            {table.isInterpolated && ', interpolated between the marks'}.
          </Text>
          {isText && <TextOptions options={options} set={set} />}
          {preview !== null && <Preview>{preview}</Preview>}
        </Stack>
      </Dialog.Body>
      <Dialog.Footer>
        {format !== 'XLSX' && (
          <Button variant="outline" onClick={() => copyTable(text())}>
            Copy
          </Button>
        )}
        <Button colorPalette="brand" onClick={() => void download()}>
          Download {format}
        </Button>
      </Dialog.Footer>
    </Window>
  )
}

/** Returns a data table as a workbook. The code that writes one is loaded on first use. */
async function workbookOf(investigation: Investigation, table: DataTable): Promise<Blob> {
  const { workbook } = await import('./workbook.ts')
  return workbook([motionSheet(investigation, table), factsSheet(investigation, fitLines(investigation))])
}

/** Options of a text file. */
interface TextFileOptions {
  comma: boolean
  byteOrderMark: boolean
  errors: boolean
  rounded: boolean
}

function TextOptions({
  options,
  set,
}: {
  options: TextFileOptions
  set(change: Partial<TextFileOptions>): void
}) {
  return (
    <HStack gap="4" flexWrap="wrap">
      <TickBox on={options.errors} set={(errors) => set({ errors })}>
        with standard errors
      </TickBox>
      <TickBox on={options.rounded} set={(rounded) => set({ rounded })}>
        rounded to the errors
      </TickBox>
      <TickBox on={options.comma} set={(comma) => set({ comma })}>
        decimal comma
      </TickBox>
      <TickBox on={options.byteOrderMark} set={(byteOrderMark) => set({ byteOrderMark })}>
        byte-order mark
      </TickBox>
    </HStack>
  )
}

function Preview({ children }: { children: string }) {
  return (
    <Box
      as="pre"
      padding="2"
      bg="paper"
      border="1px solid"
      borderColor="line"
      borderRadius="6px"
      fontFamily="mono"
      fontSize="tiny"
      overflowX="auto"
      data-csv-preview
    >
      {children}
    </Box>
  )
}

function copyTable(text: string): void {
  void navigator.clipboard.writeText(text).then(
    () => notify('The table is on the clipboard.'),
    () => notify('This browser does not let pages use the clipboard here. Download the file instead.'),
  )
}

const MIME: Record<Exclude<Format, 'XLSX'>, string> = {
  CSV: 'text/csv;charset=utf-8',
  TSV: 'text/tab-separated-values;charset=utf-8',
  JSON: 'application/json',
}
