import { edits } from '@apokinema/core/investigation'
import { TEMPLATE_IDS, TEMPLATES, type TemplateId, templateBlocks } from '@apokinema/words/report/templates'
import { Box, Stack, Text } from '@chakra-ui/react'
import { v4 as uuid } from 'uuid'
import type { Session } from '../../document/session.ts'

/** Where a report begins: with a template, already linked to the investigation, or blank. */
export function TemplateChoice({ session, done }: { session: Session; done: () => void }) {
  const begin = (template: TemplateId) => {
    const blocks = templateBlocks(session.document, template)
    session.edit('begin the report', edits.appendBlocks(blocks.map((block) => [uuid(), block] as const)))
    done()
  }
  return (
    <Stack maxWidth="30rem" marginX="auto" paddingY="10" paddingX="6" gap="3">
      <Text as="h1" fontSize="20px" fontWeight="600">
        Write the report
      </Text>
      <Text color="ink.muted">
        Numbers, graphs and tables in it follow the measurement: correct a mark, and they are right again.
      </Text>
      {TEMPLATE_IDS.map((id) => (
        <Box
          as="button"
          key={id}
          textAlign="left"
          bg="panel"
          border="1px solid"
          borderColor="line"
          borderRadius="10px"
          padding="4"
          _hover={{ borderColor: 'petrol' }}
          onClick={() => begin(id)}
        >
          <Text fontWeight="600">{TEMPLATES[id].name}</Text>
          <Text color="ink.muted" fontSize="13px">
            {TEMPLATES[id].about}
          </Text>
        </Box>
      ))}
    </Stack>
  )
}
