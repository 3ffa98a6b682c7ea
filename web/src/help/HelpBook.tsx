import { Box, Button, Flex, Heading, HStack, Input, Stack, Switch, Table, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { samplesQuery } from '../api/queries.ts'
import { notify } from '../common/messages.tsx'
import { createFromSample } from '../investigations/create.ts'
import { KEYS, useLetterKeys } from '../workbench/useKeys.ts'
import { useGuide } from './guide.ts'
import { HelpText } from './HelpText.tsx'
import { HELP_PAGES, type HelpPage, searchHelp } from './helpPages.ts'
import { useHelp } from './helpStore.ts'
import { useStartGuide } from './useStartGuide.ts'

const GROUPS: [HelpPage['group'], string][] = [
  ['recipe', 'Recipes'],
  ['word', 'Words'],
  ['method', 'How it is computed'],
]

/** Pages that are no texts: how to begin, and the keys. */
const OWN_PAGES = [
  { id: 'start', title: 'How it goes', text: 'begin first steps newcomer' },
  { id: 'keys', title: 'Keys', text: KEYS.flat().join(' ') },
]

/** Help: a search, the list of pages, and the page that is open. */
export default function HelpBook() {
  const page = useHelp((state) => state.page)
  const [wanted, setWanted] = useState('')
  const open = (id: string) => useHelp.setState({ page: id })
  const own = searchHelp(OWN_PAGES, wanted)
  const found = searchHelp(HELP_PAGES, wanted)
  const first = own[0] ?? found[0]
  const entry = ({ id, title }: { id: string; title: string }) => (
    <Button
      key={id}
      size="2xs"
      variant="ghost"
      width="100%"
      height="auto"
      minHeight="6"
      paddingX="2"
      justifyContent="flex-start"
      textAlign="left"
      whiteSpace="normal"
      fontWeight={id === page ? '600' : '400'}
      color={id === page ? 'petrol' : 'ink'}
      bg={id === page ? 'petrol.tint' : undefined}
      aria-current={id === page ? 'page' : undefined}
      onClick={() => open(id)}
    >
      {title}
    </Button>
  )
  return (
    <Flex direction={{ base: 'column', md: 'row' }} minHeight="0" flex="1" height="100%">
      <Stack
        as="nav"
        aria-label="Pages of help"
        gap="1"
        width={{ base: '100%', md: '236px' }}
        maxHeight={{ base: '38%', md: 'none' }}
        flex="none"
        overflowY="auto"
        padding="3"
        borderRight={{ md: '1px solid' }}
        borderBottom={{ base: '1px solid', md: 'none' }}
        borderColor={{ base: 'line', md: 'line' }}
        bg="paper"
      >
        <Input
          size="sm"
          flex="none"
          bg="panel"
          placeholder="Search"
          aria-label="Search in help"
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && first) open(first.id)
          }}
        />
        {own.map(entry)}
        {GROUPS.map(([group, name]) => {
          const pages = found.filter((one) => one.group === group)
          if (pages.length === 0) return null
          return (
            <Box key={group}>
              <Text fontSize="small" fontWeight="600" color="ink.muted" paddingTop="2" paddingX="2">
                {name}
              </Text>
              {pages.map(entry)}
            </Box>
          )
        })}
        {own.length + found.length === 0 && (
          <Text fontSize="small" color="ink.muted" padding="2">
            Nothing has all of these words. Try one of them.
          </Text>
        )}
      </Stack>
      <Box
        flex="1"
        minWidth="0"
        minHeight="0"
        overflowY="auto"
        padding="5"
        data-help-page={page}
        tabIndex={0}
      >
        <Page id={page} />
      </Box>
    </Flex>
  )
}

function Page({ id }: { id: string }) {
  if (id === 'keys') return <Keys />
  const page = HELP_PAGES.find((one) => one.id === id)
  if (!page) return <Start />
  return (
    <>
      <Heading as="h2" fontSize="title" fontWeight="600" marginBottom="2">
        {page.title[0].toUpperCase() + page.title.slice(1)}
      </Heading>
      {page.sample && <OpenSample id={page.sample} />}
      <HelpText text={page.text} />
    </>
  )
}

/** Opens the sample on which a recipe can be tried, in a new investigation. */
function OpenSample({ id }: { id: string }) {
  const navigate = useNavigate()
  const sample = useQuery(samplesQuery).data?.samples.find((one) => one.id === id)
  if (!sample) return null
  const open = async () => {
    try {
      const made = await createFromSample(sample)
      useHelp.setState({ open: false })
      await navigate(`/investigations/${made}/measure`)
    } catch {
      notify('The sample could not be opened: the server does not answer. Try again in a moment.')
    }
  }
  return (
    <Button size="xs" variant="outline" bg="panel" marginBottom="3" onClick={() => void open()}>
      Try it on the sample “{sample.title}”
    </Button>
  )
}

const STEPS = [
  'Open a clip. What moves in it is looked for, and outlined in dashes.',
  'Click “Follow this?”. Or add a body and mark it by hand, frame by frame.',
  'Draw along something whose length you know, and type the length.',
  'Look at what is proposed: when it moves by one law, and along which axes. Take it, or say No.',
  'Open Graphs. The fit that is proposed stands there in dashes, with its reading. Take it, or choose a stretch by dragging along a graph.',
]

function Start() {
  return (
    <>
      <Heading as="h2" fontSize="title" fontWeight="600" marginBottom="2">
        How it goes
      </Heading>
      <Box as="ol" paddingLeft="5" listStyleType="decimal" lineHeight="1.55">
        {STEPS.map((step) => (
          <Box as="li" key={step} marginBottom="1.5">
            {step}
          </Box>
        ))}
      </Box>
      <Guided />
      <Text marginTop="3" color="ink.muted">
        Whatever is dashed counts as nothing until you take it. Everything can be undone, and everything is
        saved at once.
      </Text>
    </>
  )
}

/** The way into the guided first measurement, or back into it. */
function Guided() {
  const { investigation, isLeft } = useGuide()
  const here = useLocation().pathname
  const isHere = investigation !== null && here.includes(investigation)
  const begin = useStartGuide()
  const goOn = () => {
    useGuide.setState({ isLeft: false })
    useHelp.setState({ open: false })
  }
  return (
    <HStack marginTop="3" gap="2" flexWrap="wrap">
      {isHere && isLeft && (
        <Button size="sm" colorPalette="brand" onClick={goOn}>
          Go on with the guided measurement
        </Button>
      )}
      <Button size="sm" variant="outline" bg="panel" onClick={() => void begin()}>
        Measure a first time, step by step
      </Button>
    </HStack>
  )
}

function Keys() {
  const letters = useLetterKeys()
  return (
    <>
      <Heading as="h2" fontSize="title" fontWeight="600" marginBottom="2">
        Keys
      </Heading>
      <Table.Root size="sm">
        <Table.Body>
          {KEYS.map(([key, what]) => (
            <Table.Row key={`${key} ${what}`}>
              <Table.Cell fontFamily="mono" whiteSpace="nowrap" verticalAlign="top">
                {key}
              </Table.Cell>
              <Table.Cell>{what}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      <Switch.Root
        marginTop="4"
        checked={letters.on}
        onCheckedChange={(event) => letters.set(event.checked)}
        colorPalette="brand"
      >
        <Switch.HiddenInput />
        <Switch.Control />
        <Switch.Label>Single letters and signs act as keys</Switch.Label>
      </Switch.Root>
    </>
  )
}
