import { edits, type Paper } from '@apokinema/core/investigation'
import { printedBlocks } from '@apokinema/words/report/changes'
import { Box, Button, Stack, Text } from '@chakra-ui/react'
import { Select } from '../../../common/Select.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import type { Writing } from '../editor/writing.ts'
import { printReport } from '../printReport.ts'

const PAPERS: [Paper, string][] = [
  ['a4', 'A4'],
  ['letter', 'Letter'],
]

/** Paper, and the ways in which the report leaves. */
export function PageSettings({ writing }: { writing: Writing }) {
  const session = useSession()
  const { paper } = useInvestigation().report
  const print = async () => {
    writing.commit()
    await printReport()
    const at = new Date().toISOString()
    session.edit(
      'note what was printed',
      edits.setReport({ printed: { at, blocks: printedBlocks(session.document) } }),
    )
  }
  return (
    <Box padding="4">
      <Text as="h2" fontWeight="600">
        Page
      </Text>
      <Box marginTop="2">
        <Select
          label="Paper"
          value={paper}
          options={PAPERS}
          choose={(chosen) => session.edit('choose the paper', edits.setReport({ paper: chosen }))}
        />
      </Box>
      <Text as="h2" fontWeight="600" marginTop="5">
        Take the report away
      </Text>
      <Stack gap="2" marginTop="2" align="flex-start">
        <Button size="sm" colorPalette="brand" onClick={() => void print()}>
          Print or PDF
        </Button>
      </Stack>
    </Box>
  )
}
