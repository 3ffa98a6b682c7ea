import type { ReportTemplate } from '@apokinema/core/report'
import { Box, Button, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { v4 as uuid } from 'uuid'
import { client } from '../../../api/client.ts'
import { useTemplateMutation } from '../../../api/queries.ts'
import { notify } from '../../../common/messages.tsx'
import { TextField } from '../../../common/TextField.tsx'
import type { Writing } from '../editor/writing.ts'
import { useIsEmpty } from '../source.ts'

/**
 * Keeps the report, without its answers, to begin those of other investigations with.
 *
 * @param templateOf returns the report as a template of a name
 */
export function KeepTemplate({
  writing,
  templateOf,
}: {
  writing: Writing
  templateOf: (name: string) => ReportTemplate
}) {
  const isEmpty = useIsEmpty()
  const [isNaming, setNaming] = useState(false)
  const keep = useTemplateMutation(client.keepTemplate, () => {
    setNaming(false)
    notify('Kept. It is offered wherever a report begins.')
  })
  if (isEmpty) return null
  return (
    <Box marginTop="5">
      <Text as="h2" fontWeight="600">
        Use it again
      </Text>
      {isNaming ? (
        <Box marginTop="2">
          <TextField
            label="Name of the template"
            value=""
            placeholder="such as: lab report of 10b"
            fontFamily="body"
            maxLength={100}
            autoFocus
            onCommit={(name) => {
              if (name === '') return 'A template needs a name.'
              writing.commit()
              keep(uuid(), templateOf(name))
              return null
            }}
          />
          <Button size="2xs" variant="ghost" marginTop="1" onClick={() => setNaming(false)}>
            Not now
          </Button>
        </Box>
      ) : (
        <Button size="xs" variant="outline" marginTop="2" onClick={() => setNaming(true)}>
          Keep as a template …
        </Button>
      )}
    </Box>
  )
}
