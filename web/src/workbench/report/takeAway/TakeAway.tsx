import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react'
import { useEffect, useRef, useState } from 'react'
import { notify } from '../../../common/messages.tsx'
import { saveFile } from '../../../common/saveFile.ts'
import type { Writing } from '../editor/writing.ts'
import { notePrinted, printReport } from '../printReport.ts'
import { useIsEmpty, useSource } from '../source.ts'
import { collectReport } from './collectReport.ts'
import { makeReportFile, REPORT_FORMATS } from './makeReportFile.ts'
import type { ReportFormat } from './reportFile.worker.ts'

/** The ways in which the report leaves: print, or a file. Nothing as long as the report is empty. */
export function TakeAway({ writing }: { writing: Writing }) {
  const source = useSource()
  const isEmpty = useIsEmpty()
  const [progress, setProgress] = useState<number | null>(null)
  const running = useRef<AbortController | null>(null)
  useEffect(() => () => running.current?.abort(), [])

  const print = async () => {
    writing.commit()
    await printReport()
    notePrinted(source)
  }
  const take = async (format: ReportFormat) => {
    writing.commit()
    const control = new AbortController()
    running.current = control
    setProgress(0)
    try {
      const report = await collectReport(source, (share) => setProgress(0.9 * share), control.signal)
      const { file, name } = await makeReportFile(format, report, control.signal)
      saveFile(file, name)
      notePrinted(source)
    } catch (error) {
      if (!control.signal.aborted) {
        console.error(error)
        notify('The file of the report could not be made. The report itself is as it was.')
      }
    } finally {
      if (running.current === control) {
        running.current = null
        setProgress(null)
      }
    }
  }
  if (isEmpty) return null
  return (
    <Box>
      <Text as="h2" fontWeight="600" marginTop="5">
        Take the report away
      </Text>
      {progress === null ? (
        <Stack gap="2" marginTop="2" align="stretch">
          <Button size="sm" colorPalette="brand" onClick={() => void print()}>
            Print or PDF
          </Button>
          {REPORT_FORMATS.map(([format, name]) => (
            <Button key={format} size="sm" variant="outline" onClick={() => void take(format)}>
              {name}
            </Button>
          ))}
        </Stack>
      ) : (
        <HStack marginTop="2" justify="space-between" role="status">
          <Text color="ink.muted">Making the file … {Math.round(100 * progress)} %</Text>
          <Button size="xs" variant="outline" onClick={() => running.current?.abort()}>
            Cancel
          </Button>
        </HStack>
      )}
    </Box>
  )
}
