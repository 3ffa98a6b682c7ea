import { changedSincePrinted } from '@apokinema/words/report/changes'
import { Box, Stack, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'

/** What shows something else than when the report was printed, each before and after. */
export function ChangedBlocks() {
  const investigation = useInvestigation()
  const changes = useMemo(() => changedSincePrinted(investigation), [investigation])
  const [open, setOpen] = useState<string | null>(null)
  if (!investigation.report.printed) return null
  return (
    <Box padding="4" borderTop="1px solid" borderColor="line" data-changed={changes.length}>
      <Text as="h2" fontWeight="600" display="flex" justifyContent="space-between">
        Changed since printed <span>{changes.length}</span>
      </Text>
      {changes.length === 0 && (
        <Text fontSize="13px" color="ink.muted">
          Everything is as it was printed.
        </Text>
      )}
      <Stack gap="1" marginTop="1">
        {changes.map(({ id, kind, before, now }) => (
          <Box key={id} fontSize="13px">
            <Text
              as="button"
              color="petrol"
              textAlign="left"
              aria-expanded={open === id}
              onClick={() => setOpen(open === id ? null : id)}
            >
              {kind === 'figure' || kind === 'table' ? now.split(':')[0] : now.slice(0, 48) || 'a block'}
            </Text>
            {open === id && (
              <Box as="dl" color="ink.muted">
                <dt>before</dt>
                <dd>{before ?? 'not there'}</dd>
                <dt>now</dt>
                <dd>{now}</dd>
              </Box>
            )}
          </Box>
        ))}
      </Stack>
    </Box>
  )
}
