import { analyse } from '@apokinema/core/analysis'
import {
  calculationProblem,
  type KnownValue,
  nameTex,
  type ShownCalculation,
} from '@apokinema/core/calculations'
import { type Calculation, edits, inOrder } from '@apokinema/core/investigation'
import { measurement } from '@apokinema/core/units'
import { comparisonText } from '@apokinema/words/comparisons'
import { expressionProblemText } from '@apokinema/words/expressionProblems'
import { nameText } from '@apokinema/words/names'
import { calculationBlock } from '@apokinema/words/report/choices'
import { Box, Button, CloseButton, Dialog, Field, Flex, Input, Stack, Text } from '@chakra-ui/react'
import { Plus } from 'lucide-react'
import { useState } from 'react'
import { v4 as uuid } from 'uuid'
import { Window } from '../../common/Window.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { Budget } from '../fits/Budget.tsx'
import { ExpectedField } from '../fits/ExpectedField.tsx'
import { Formula } from '../fits/Formula.tsx'
import { ReportButton } from '../ReportButton.tsx'

const NEW: Omit<Calculation, 'order'> = { symbol: '', name: '', expression: '', unit: '', against: null }

/** Results computed from readings; nothing before there is a fit. */
export function Calculations() {
  const analysis = analyse(useInvestigation())
  const [known, shown] = [analysis.knownValues(), analysis.calculations()]
  const [writing, setWriting] = useState<string | null>(null)
  if (analysis.allFits().length === 0) return null
  return (
    <Box as="section" paddingX="4" paddingY="3" data-calculations>
      <Text fontWeight="600">Calculations</Text>
      {shown.length === 0 && (
        <Text fontSize="small" color="ink.muted">
          Results that follow from readings: a friction coefficient, momentum before and after, the mean of
          several trials.
        </Text>
      )}
      {shown.map((one) => (
        <Line key={one.id} shown={one} change={() => setWriting(one.id)} />
      ))}
      <Button size="2xs" variant="plain" color="petrol" paddingX="0" onClick={() => setWriting(uuid())}>
        <Plus size={14} /> Calculate something …
      </Button>
      {writing !== null && <Editor id={writing} known={known} close={() => setWriting(null)} />}
    </Box>
  )
}

/** A calculation: its formula with the numbers in place, and its result. */
function Line({ shown, change }: { shown: ShownCalculation; change: () => void }) {
  const session = useSession()
  const investigation = useInvestigation()
  const { id, calculation, result, error } = shown
  const { name, symbol, against } = calculation
  return (
    <Box marginTop="2" data-calculation={symbol}>
      <Flex align="center">
        <Text flex="1" minWidth="0" truncate title={name}>
          {name || symbol}
        </Text>
        <Button size="2xs" variant="plain" paddingX="1" color="petrol" onClick={change}>
          Change
        </Button>
        <ReportButton what={name || symbol} content={calculationBlock(id)} />
        <CloseButton
          size="2xs"
          aria-label={`Remove ${name || symbol}`}
          onClick={() => session.edit(`remove ${name || symbol}`, edits.removeCalculation(id))}
        />
      </Flex>
      {error && (
        <Text fontSize="small" color="alarm" role="alert">
          {expressionProblemText(error)}
        </Text>
      )}
      {result && (
        <>
          <Formula tex={`${nameTex(symbol)} = ${result.formula}`} fontSize="small" />
          <Formula
            tex={`\\phantom{${nameTex(symbol)}} = ${result.numbers}`}
            fontSize="small"
            color="ink.muted"
          />
          <Text fontWeight="600" data-result data-value={result.value} data-error={result.error}>
            {measurement(result.value, result.error, result.unit)}
          </Text>
          {against && against.kind !== 'reading' && (
            <Text fontSize="small" data-comparison>
              {comparisonText(investigation, result, against)}
            </Text>
          )}
          <Budget reading={result} />
        </>
      )}
    </Box>
  )
}

/** The form of a calculation, with its errors. */
function Editor({ id, known, close }: { id: string; known: KnownValue[]; close: () => void }) {
  const session = useSession()
  const investigation = useInvestigation()
  const { order, ...from } = investigation.calculations[id] ?? { order: 0, ...NEW }
  const [draft, setDraft] = useState<Omit<Calculation, 'order'>>(from)
  const set = (change: Partial<Calculation>) => setDraft((before) => ({ ...before, ...change }))
  const others = inOrder(investigation.calculations).filter(([other]) => other !== id)
  const isTaken =
    others.some(([, { symbol }]) => symbol === draft.symbol) ||
    known.some(({ name }) => name === draft.symbol)
  const wrongName = draft.symbol === '' ? null : nameText(draft.symbol, isTaken)
  const problem =
    draft.expression.trim() === '' ? null : calculationProblem(investigation, known, id, { order, ...draft })
  const isWhole = draft.symbol !== '' && draft.expression.trim() !== '' && !wrongName && !problem
  const keep = () => {
    if (!isWhole) return
    session.edit(`calculate ${draft.name || draft.symbol}`, edits.setCalculation(id, draft))
    close()
  }
  const field = (
    label: string,
    key: 'name' | 'symbol' | 'expression' | 'unit',
    error: string | null,
    rest = {},
  ) => (
    <Field.Root invalid={error !== null} gap="1">
      <Field.Label fontSize="small" color="ink.muted" fontWeight="400">
        {label}
      </Field.Label>
      <Input
        size="xs"
        value={draft[key]}
        onChange={({ target }) => set({ [key]: target.value })}
        onKeyDown={(event) => {
          event.stopPropagation()
          if (event.key === 'Enter') keep()
        }}
        {...rest}
      />
      {error && <Field.ErrorText>{error}</Field.ErrorText>}
    </Field.Root>
  )
  return (
    <Window title="Calculate something" size="md" open close={close}>
      <Dialog.Body paddingTop="0">
        <Stack gap="3">
          {field('What it is', 'name', null, { placeholder: 'Friction coefficient', maxLength: 120 })}
          <Flex gap="3">
            {field('Symbol', 'symbol', wrongName, { placeholder: 'k', maxLength: 20 })}
            {field('Unit; empty: as it comes out', 'unit', null, { maxLength: 40 })}
          </Flex>
          {field('Formula', 'expression', problem && expressionProblemText(problem), {
            placeholder: 'a_1/g, mean(a_1, a_2), weighted(a_1, a_2)',
            fontFamily: 'mono',
            maxLength: 400,
          })}
          <ExpectedField unit={draft.unit} against={draft.against} set={(against) => set({ against })} />
          <Names
            known={known}
            others={others.map(([, { symbol }]) => symbol)}
            insert={(name) => set({ expression: `${draft.expression}${name}` })}
          />
        </Stack>
      </Dialog.Body>
      <Dialog.Footer>
        <Button size="xs" colorPalette="brand" disabled={!isWhole} onClick={keep}>
          Keep it
        </Button>
      </Dialog.Footer>
    </Window>
  )
}

/** The names that a formula can use: a click inserts one. */
function Names({
  known,
  others,
  insert,
}: {
  known: KnownValue[]
  /** Symbols of the other calculations. */
  others: string[]
  insert(name: string): void
}) {
  return (
    <Box>
      <Text fontSize="small" color="ink.muted">
        Names that can stand in it; a click puts one in. Also {others.join(', ')}
        {others.length > 0 && ', '}pi, and functions such as sqrt, sin, mean.
      </Text>
      <Flex gap="1.5" flexWrap="wrap" marginTop="1" maxHeight="11rem" overflowY="auto">
        {known.map(({ name, what, value, error, unit, factor }) => (
          <Button
            key={name}
            size="2xs"
            variant="outline"
            fontFamily="mono"
            fontWeight="400"
            title={`${what}, ${measurement(value / factor, error / factor, unit)}`}
            onClick={() => insert(name)}
          >
            {name}
          </Button>
        ))}
      </Flex>
    </Box>
  )
}
