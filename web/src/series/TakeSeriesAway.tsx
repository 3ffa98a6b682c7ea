import { API } from '@apokinema/core/api'
import { fileNameOf, resultsSheet, seriesCsv, seriesJson, seriesSheet } from '@apokinema/core/formats'
import { Box, Button, Menu, Portal, Text } from '@chakra-ui/react'
import { Download } from 'lucide-react'
import { useNavigate } from 'react-router'
import { notify } from '../common/messages.tsx'
import { saveFile, saveFrom } from '../common/saveFile.ts'
import { useOpenSeries, useSeriesAnalysis } from './SeriesContext.tsx'

const FORMATS = [
  ['report', 'Report', 'to be written, printed, or saved for Word'],
  ['csv', 'Table as CSV', 'for any program'],
  ['xlsx', 'Table and results as XLSX', 'a workbook with two sheets'],
  ['json', 'Table and results as JSON', 'with units, errors and error budgets'],
  ['zip', 'All trials as ZIP', 'each with its film, to be opened again'],
] as const
type Format = (typeof FORMATS)[number][0]

/** Saves the table of trials and what they say as files. */
export function TakeSeriesAway() {
  const analysis = useSeriesAnalysis()
  const { session, titles, isLoading } = useOpenSeries()
  const navigate = useNavigate()
  const save = async (format: Format) => {
    const file = (content: string, type: string) =>
      saveFile(new Blob([content], { type }), fileNameOf(analysis.series, format))
    if (format === 'csv') file(seriesCsv(analysis, titles), 'text/csv')
    else if (format === 'json') file(seriesJson(analysis, titles), 'application/json')
    else if (format === 'xlsx') {
      // The code that writes workbooks is loaded only when one is wanted.
      const { workbook } = await import('../workbench/graphs/workbook.ts')
      const sheets = [seriesSheet(analysis, titles), resultsSheet(analysis)]
      saveFile(await workbook(sheets), fileNameOf(analysis.series, format))
    } else if (format === 'report') await navigate(`/series/${session.id}/report`)
    else {
      await session.delivered()
      saveFrom(API.packedSeries(session.id))
    }
  }
  return (
    <Menu.Root
      onSelect={({ value }) => void save(value as Format).catch((error: Error) => notify(error.message))}
    >
      <Menu.Trigger asChild>
        <Button size="sm" variant="outline" bg="panel" disabled={isLoading} aria-label="Take away">
          <Download size={15} aria-hidden />
          <Box as="span" display={{ base: 'none', md: 'inline' }}>
            Take away
          </Box>
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content>
            {FORMATS.map(([format, name, about]) => (
              <Menu.Item key={format} value={format}>
                <Box>
                  <Text>{name}</Text>
                  <Text fontSize="small" color="ink.muted">
                    {about}
                  </Text>
                </Box>
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}
