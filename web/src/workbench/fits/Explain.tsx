import { explain, type GraphFit, type Suspect } from '@apokinema/core/analysis'
import { doubtsOf, type ExpectedValue, type NamedReading, namedReadings } from '@apokinema/core/fitting'
import { edits } from '@apokinema/core/investigation'
import { causeText, suspectReasonText, suspectSizeText } from '@apokinema/words/suspects'
import { Box, Button, Flex, Stack, Text } from '@chakra-ui/react'
import { Check, CircleHelp, X } from 'lucide-react'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { Fold } from '../../common/Fold.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { workbench } from '../workbenchStore.ts'

const SUPPORT = {
  for: { icon: Check, colour: 'saffron.text', says: 'the data speak for it' },
  open: { icon: CircleHelp, colour: 'ink.muted', says: 'the data leave it open' },
  against: { icon: X, colour: 'ink.muted', says: 'the data speak against it' },
} as const

const PLACES: Record<Exclude<Suspect['place'], null | 'stretch'>, string> = {
  scale: 'Look at the reference',
  'capture-rate': 'Look at the capture rate',
  axes: 'Look at the axes',
  'read-out': 'Look at the shutter',
}

/** Possible causes of a reading that misses the expected value. Changes nothing by itself. */
export function Explain(of: { shown: GraphFit; reading: NamedReading; expected: ExpectedValue }) {
  return (
    <Box marginTop="2">
      <Fold name="suspects" label="What would explain this?">
        <Suspects {...of} />
      </Fold>
    </Box>
  )
}

function Suspects({
  shown: { all, columns, range, settings, refit },
  reading,
  expected,
}: {
  shown: GraphFit
  reading: NamedReading
  expected: ExpectedValue
}) {
  const investigation = useInvestigation()
  const { value, error } = expected
  const suspects = useMemo(
    () =>
      explain({
        investigation,
        fits: all,
        columns,
        range,
        refit,
        reading,
        again: (fits) => namedReadings(fits).find(({ id }) => id === reading.id),
        expected: { value, error },
        doubts: doubtsOf(all, refit, range, settings),
      }),
    [investigation, all, columns, range, settings, refit, reading, value, error],
  )
  const open = suspects.filter(({ support }) => support !== 'against')
  const ruledOut = suspects.filter(({ support }) => support === 'against')
  const row = (suspect: Suspect) => <Row key={suspect.cause} suspect={suspect} stretch={settings.stretch} />
  return (
    <Stack gap="0" paddingTop="1" data-suspects>
      {open.length === 0 && (
        <Text fontSize="small">
          Nothing that is known here. Is what is expected right, and is it this motion’s?
        </Text>
      )}
      {open.map(row)}
      {ruledOut.length > 0 && (
        <Fold name="ruled-out" label={`Ruled out by the data: ${ruledOut.length}`}>
          {ruledOut.map(row)}
        </Fold>
      )}
    </Stack>
  )
}

function Row({
  suspect: { cause, size, support, why, place, frame, range: cut },
  stretch,
}: {
  suspect: Suspect
  stretch: string
}) {
  const session = useSession()
  const { icon: Sign, colour, says } = SUPPORT[support]
  return (
    <Flex
      gap="2"
      paddingY="1.5"
      borderTop="1px solid"
      borderColor="petrol.emphasis"
      fontSize="small"
      color={support === 'against' ? 'ink.muted' : undefined}
      data-suspect={cause}
    >
      <Box color={colour} flex="none" paddingTop="0.5">
        <Sign size={14} strokeWidth={2.4} aria-label={says} />
      </Box>
      <Box minWidth="0">
        <Text fontWeight="600">{causeText({ cause })}</Text>
        <Text>
          {suspectSizeText(size)} {suspectReasonText(why)}
        </Text>
        {support !== 'against' && (
          <Flex gap="2" marginTop="1">
            {place && place !== 'stretch' && (
              <Button asChild size="2xs" variant="outline" bg="panel">
                <Link to={`/investigations/${session.id}/measure#${place}`}>{PLACES[place]}</Link>
              </Button>
            )}
            {frame !== undefined && (
              <Button size="2xs" variant="outline" bg="panel" onClick={() => workbench.goTo(frame)}>
                See frame {frame}
              </Button>
            )}
            {cut && (
              <Button
                size="2xs"
                variant="outline"
                bg="panel"
                onClick={() =>
                  session.edit('cut the stretch', edits.changeStretch(stretch, cut.from, cut.to))
                }
              >
                Cut it to frames {cut.from} to {cut.to}
              </Button>
            )}
          </Flex>
        )}
      </Box>
    </Flex>
  )
}
