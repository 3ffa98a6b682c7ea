import { type ChangedBlock, changedSincePrinted, changesSummary } from '@apokinema/words/report/changes'
import { Box, Stack, Text } from '@chakra-ui/react'
import { useDeferredValue, useMemo, useState } from 'react'
import { useAllShown } from './shownBlocks.ts'
import { useReport } from './source.ts'

const when = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'long',
  hour: '2-digit',
  minute: '2-digit',
})

/** What shows something else than when the report was printed, each before and after. */
export function ChangedBlocks() {
  const printed = useDeferredValue(useReport((report) => report.printed))
  const shown = useDeferredValue(useAllShown())
  const changes = useMemo(() => changedSincePrinted({ printed }, shown.values()), [printed, shown])
  const [open, setOpen] = useState<string | null>(null)
  if (!printed) return null
  const date = new Date(printed.at)
  return (
    <Box padding="4" borderBottom="1px solid" borderColor="line" data-changed={changes.length}>
      <Text as="h2" fontWeight="600">
        Changed since printed
      </Text>
      <Text fontSize="small" color="ink.muted">
        {changes.length === 0 ? 'Everything is as it was' : `${changesSummary(changes)} changed`}
        {Number.isNaN(date.getTime()) ? '.' : ` since ${when.format(date)}.`}
      </Text>
      <Stack gap="1" marginTop="1">
        {changes.map((change) => (
          <Change
            key={change.id}
            change={change}
            isOpen={open === change.id}
            toggle={() => setOpen(open === change.id ? null : change.id)}
          />
        ))}
      </Stack>
    </Box>
  )
}

function Change({
  change: { kind, before, now },
  isOpen,
  toggle,
}: {
  change: ChangedBlock
  isOpen: boolean
  toggle: () => void
}) {
  const name = kind === 'figure' || kind === 'table' ? now.split(':')[0] : now || 'a block'
  return (
    <Box fontSize="small" minWidth="0">
      <Text
        as="button"
        color="petrol"
        textAlign="left"
        width="100%"
        truncate
        title={name}
        aria-expanded={isOpen}
        onClick={toggle}
      >
        {name}
      </Text>
      {isOpen && (
        <Box as="dl" borderLeft="2px solid" borderColor="line" paddingLeft="2" marginY="1">
          <Text as="dt" color="ink.muted">
            before
          </Text>
          <dd>{before ?? 'not there'}</dd>
          <Text as="dt" color="ink.muted" marginTop="1">
            now
          </Text>
          <dd>{now}</dd>
        </Box>
      )}
    </Box>
  )
}
