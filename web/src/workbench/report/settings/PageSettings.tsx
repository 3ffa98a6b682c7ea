import { edits, type Paper } from '@apokinema/core/investigation'
import { Box, Text } from '@chakra-ui/react'
import { Select } from '../../../common/Select.tsx'
import type { Writing } from '../editor/writing.ts'
import { useReport, useSource } from '../source.ts'
import { TakeAway } from '../takeAway/TakeAway.tsx'
import { KeepTemplate } from './KeepTemplate.tsx'

const PAPERS: [Paper, string][] = [
  ['a4', 'A4'],
  ['letter', 'Letter'],
]

/** Paper, and the ways in which the report leaves. */
export function PageSettings({ writing }: { writing: Writing }) {
  const { session, ownTemplates } = useSource()
  const paper = useReport((report) => report.paper)
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
      <TakeAway writing={writing} />
      {ownTemplates && <KeepTemplate writing={writing} templateOf={ownTemplates.keep} />}
    </Box>
  )
}
