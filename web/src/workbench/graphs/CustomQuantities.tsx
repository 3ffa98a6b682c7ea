import { analyse } from '@apokinema/core/analysis'
import { type CustomQuantity, edits, inOrder, MOST_EXPRESSION } from '@apokinema/core/investigation'
import { definitionProblem, FUNCTIONS, nameProblem, quantitiesOf } from '@apokinema/core/motion'
import { measurement, parseUnit } from '@apokinema/core/units'
import { expressionProblemText } from '@apokinema/words/expressionProblems'
import { nameProblemText, nameText } from '@apokinema/words/names'
import {
  Box,
  Button,
  CloseButton,
  Dialog,
  Field,
  Flex,
  Grid,
  HStack,
  Input,
  Stack,
  Text,
} from '@chakra-ui/react'
import { Plus } from 'lucide-react'
import { type ReactNode, useState } from 'react'
import { v4 as uuid } from 'uuid'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { Window } from '../../common/Window.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'

const NEW: Omit<CustomQuantity, 'order'> = { name: '', symbol: '', unit: '', expression: '' }

/** Custom quantities and constants, and their definitions. */
export function CustomQuantities({ body }: { body: string }) {
  const investigation = useInvestigation()
  const own = inOrder(investigation.quantities)
  const [writing, setWriting] = useState<string | null>(null)
  return (
    <Window
      title="Quantities of your own"
      size="lg"
      close={() => setWriting(null)}
      button={
        <Button size="2xs" variant="plain" color="petrol" marginLeft="4" paddingX="0" marginTop="2">
          <Plus size={14} /> Define a quantity …
        </Button>
      }
    >
      <Dialog.Body>
        <Stack gap="4">
          {own.map(([id, quantity]) =>
            writing === id ? (
              <Definition key={id} id={id} from={quantity} done={() => setWriting(null)} />
            ) : (
              <Known key={id} id={id} quantity={quantity} change={() => setWriting(id)} />
            ),
          )}
          {writing === 'new' || own.length === 0 ? (
            <Definition key={own.length} id={null} from={NEW} done={() => setWriting(null)} />
          ) : (
            <Button size="xs" variant="outline" alignSelf="flex-start" onClick={() => setWriting('new')}>
              <Plus size={14} /> Another one
            </Button>
          )}
          <Constants />
          <Names body={body} />
        </Stack>
      </Dialog.Body>
    </Window>
  )
}

/** A defined quantity. */
function Known({ id, quantity, change }: { id: string; quantity: CustomQuantity; change: () => void }) {
  const session = useSession()
  const problem = analyse(useInvestigation()).definition(id)?.error
  return (
    <Box>
      <Flex align="center" gap="3">
        <Text flex="1" minWidth="0" truncate>
          {quantity.name}:{' '}
          <Text as="span" fontFamily="mono" fontSize="small">
            {quantity.symbol} = {quantity.expression}
          </Text>
        </Text>
        <Button size="2xs" variant="outline" onClick={change}>
          Change
        </Button>
        <CloseButton
          size="2xs"
          aria-label={`Remove ${quantity.name}`}
          onClick={() => session.edit(`remove ${quantity.name}`, edits.removeQuantity(id))}
        />
      </Flex>
      {problem && (
        <Text fontSize="small" color="alarm" role="alert">
          {expressionProblemText(problem)}
        </Text>
      )}
    </Box>
  )
}

/** The form of a quantity, with its errors. */
function Definition({
  id,
  from,
  done,
}: {
  id: string | null
  from: Omit<CustomQuantity, 'order'>
  done: () => void
}) {
  const session = useSession()
  const investigation = useInvestigation()
  const [draft, setDraft] = useState(from)
  const [fresh] = useState(() => uuid())
  const own = id ?? fresh
  const set = (change: Partial<CustomQuantity>) => setDraft({ ...draft, ...change })
  const isTaken = Object.entries(investigation.quantities).some(
    ([other, { symbol }]) => other !== own && symbol === draft.symbol,
  )
  const nameWrong = draft.symbol === '' ? null : nameText(draft.symbol, isTaken)
  const problem =
    draft.expression === ''
      ? null
      : definitionProblem(investigation, analyse(investigation).numbers, own, { order: 0, ...draft })
  const isWhole =
    draft.name.trim() !== '' && draft.symbol !== '' && draft.expression !== '' && !nameWrong && !problem
  const keep = () => {
    if (!isWhole) return
    session.edit(`define ${draft.name.trim()}`, edits.setQuantity(own, { ...draft, name: draft.name.trim() }))
    setDraft(NEW)
    done()
  }
  const field = (label: string, key: keyof typeof NEW, rest: object, error: string | null = null) => (
    <Field.Root invalid={error !== null} gap="1">
      <Field.Label fontSize="small" color="ink.muted" fontWeight="400">
        {label}
      </Field.Label>
      <Input
        size="xs"
        bg="panel"
        value={draft[key]}
        onChange={({ target }) => set({ [key]: target.value })}
        onKeyDown={(event) => {
          if (event.key === 'Enter') keep()
        }}
        {...rest}
      />
      {error !== null && <Field.ErrorText>{error}</Field.ErrorText>}
    </Field.Root>
  )
  return (
    <Stack gap="2" bg="paper" border="1px solid" borderColor="line" borderRadius="8px" padding="3">
      <Grid templateColumns={{ base: '1fr', sm: '2fr 1fr 1fr' }} gap="2">
        {field('Name', 'name', { placeholder: 'energy of the spring', maxLength: 120 })}
        {field('Symbol', 'symbol', { placeholder: 'Es', maxLength: 20, fontFamily: 'mono' }, nameWrong)}
        {field('Unit', 'unit', { placeholder: 'by itself', maxLength: 40, fontFamily: 'mono' })}
      </Grid>
      {field(
        'Expression',
        'expression',
        { placeholder: '0.5*k*y^2', fontFamily: 'mono', maxLength: 10 * MOST_EXPRESSION },
        problem && expressionProblemText(problem),
      )}
      <HStack>
        <Button size="xs" colorPalette="brand" disabled={!isWhole} onClick={keep}>
          {id === null ? 'Define it' : 'Change it'}
        </Button>
        {id !== null && (
          <Button size="xs" variant="plain" color="petrol" onClick={done}>
            Leave it
          </Button>
        )}
      </HStack>
    </Stack>
  )
}

/** Constants of the investigation by name: a length, a stiffness. */
function Constants() {
  const session = useSession()
  const { constants } = useInvestigation()
  const [fresh, setFresh] = useState(() => uuid())
  const read = (text: string) => {
    const found = /^(\S+)\s*=\s*([^±]+?)(?:\s*(?:±|\+-|\+\/-)\s*([\d.,e−-]+))?\s*([^\d\s±][^±]*)?$/.exec(text)
    if (!found) return null
    const [, name, number, error, unit = ''] = found
    const value = parseNumber(number)
    const off = error === undefined ? 0 : parseNumber(error)
    return value === null || off === null ? null : { name, value, error: off, unit: unit.trim() }
  }
  return (
    <Box>
      <Text fontWeight="600">Constants</Text>
      {inOrder(constants).map(([id, { name, value, error, unit }]) => (
        <Flex key={id} align="center" gap="2">
          <Text flex="1" fontFamily="mono" fontSize="small">
            {name} = {measurement(value, error, unit)}
          </Text>
          <CloseButton
            size="2xs"
            aria-label={`Remove ${name}`}
            onClick={() => session.edit(`remove the constant ${name}`, edits.removeConstant(id))}
          />
        </Flex>
      ))}
      <TextField
        key={fresh}
        label="Another one"
        placeholder="k = 12.4 ± 0.2 N/m"
        value=""
        onCommit={(text) => {
          if (text === '') return null
          const constant = read(text)
          if (!constant) return 'Such as L = 0.82 ± 0.01 m.'
          const problem = nameProblem(constant.name)
          if (problem) return nameProblemText(problem)
          if (Object.values(constants).some(({ name }) => name === constant.name))
            return 'That name is taken already.'
          if (!parseUnit(constant.unit)) return `“${constant.unit}” is no unit that is known here.`
          session.edit(`add the constant ${constant.name}`, edits.setConstant(fresh, constant))
          setFresh(uuid())
          return null
        }}
      />
    </Box>
  )
}

/** The names and functions that an expression can use. */
function Names({ body }: { body: string }) {
  const investigation = useInvestigation()
  const { bodies } = investigation
  const quantities = quantitiesOf(bodies[body], Object.keys(bodies).length)
  const numbers = analyse(investigation)
    .numbers()
    .filter(({ what }) => what !== 'a constant')
  const list = (title: string, content: ReactNode) => (
    <Text fontSize="small" color="ink.muted">
      {title}:{' '}
      <Text as="span" fontFamily="mono" color="ink">
        {content}
      </Text>
    </Text>
  )
  return (
    <Stack gap="1">
      {list('Names', ['t', ...quantities.map(({ id }) => id), 'm', 'g', 'pi', 'e'].join('  '))}
      {numbers.length > 0 && list('Measured on the picture', numbers.map(({ name }) => name).join('  '))}
      {list('Functions', FUNCTIONS.join('  '))}
    </Stack>
  )
}
