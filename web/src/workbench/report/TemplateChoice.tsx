import { type BlockContent, edits } from '@apokinema/core/investigation'
import { TEMPLATE_IDS, TEMPLATES, type TemplateId } from '@apokinema/words/report/templates'
import { Box, HStack, IconButton, Stack, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { Trash2 } from 'lucide-react'
import { v4 as uuid } from 'uuid'
import { client } from '../../api/client.ts'
import { templatesQuery, useTemplateMutation } from '../../api/queries.ts'
import { notify } from '../../common/messages.tsx'
import { type ReportSource, useSource } from './source.ts'

/** Where a report begins: with a template, already linked to what is measured, or blank. */
export function TemplateChoice({ done }: { done: () => void }) {
  const source = useSource()
  const { session, ownTemplates } = source
  const beginWith = (blocks: readonly (readonly [string, BlockContent])[]) => {
    session.edit('begin the report', edits.appendBlocks(blocks))
    done()
  }
  const begin = (template: TemplateId) =>
    beginWith(source.templateBlocks(template).map((block) => [uuid(), block] as const))
  return (
    <Stack maxWidth="30rem" marginX="auto" paddingY="10" paddingX="6" gap="3">
      <Text as="h1" fontSize="title" fontWeight="600">
        Write the report
      </Text>
      <Text color="ink.muted">
        Numbers, graphs and tables in it follow the measurement: correct a mark, and they are right again.
      </Text>
      {TEMPLATE_IDS.map((id) => (
        <Beginning key={id} {...TEMPLATES[id]} choose={() => begin(id)} />
      ))}
      {ownTemplates && <OwnTemplates fill={ownTemplates.fill} begin={beginWith} />}
    </Stack>
  )
}

/** A template that a report can begin with. */
function Beginning({ name, about, choose }: { name: string; about: string; choose: () => void }) {
  return (
    <Box
      as="button"
      flex="1"
      minWidth="0"
      textAlign="left"
      bg="panel"
      border="1px solid"
      borderColor="line"
      borderRadius="10px"
      padding="4"
      _hover={{ borderColor: 'petrol' }}
      onClick={choose}
    >
      <Text fontWeight="600" truncate title={name}>
        {name}
      </Text>
      <Text color="ink.muted" fontSize="small">
        {about}
      </Text>
    </Box>
  )
}

/** The templates that somebody has kept. */
function OwnTemplates({
  fill,
  begin,
}: {
  fill: NonNullable<ReportSource['ownTemplates']>['fill']
  begin: (blocks: readonly (readonly [string, BlockContent])[]) => void
}) {
  const { data: own = [] } = useQuery(templatesQuery)
  const open = useTemplateMutation(async (id: string) => {
    begin(fill(await client.template(id)))
  })
  const keep = useTemplateMutation(client.keepTemplate)
  const remove = useTemplateMutation(async (id: string) => {
    const template = await client.template(id)
    await client.removeTemplate(id)
    notify(`“${template.name}” is deleted.`, { label: 'Undo', onClick: () => keep(id, template) })
  })
  return own.map(({ id, name }) => (
    <HStack key={id} gap="2">
      <Beginning name={name} about="Your own template." choose={() => open(id)} />
      <IconButton
        size="xs"
        variant="ghost"
        aria-label={`Delete the template ${name}`}
        title="Delete this template"
        onClick={() => remove(id)}
      >
        <Trash2 size={14} />
      </IconButton>
    </HStack>
  ))
}
