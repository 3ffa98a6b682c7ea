import {
  calculationProblem,
  type KnownValue,
  nameTex,
  type ShownCalculation,
} from '@apokinema/core/calculations'
import { type ById, type Calculation, type Investigation, inOrder } from '@apokinema/core/investigation'
import { measurement } from '@apokinema/core/units'
import { comparisonText } from '@apokinema/words/comparisons'
import { expressionProblemText } from '@apokinema/words/expressionProblems'
import { nameText } from '@apokinema/words/names'
import { Box, Button, CloseButton, Dialog, Field, Flex, Input, Stack, Text } from '@chakra-ui/react'
import { Plus } from 'lucide-react'
import { type ReactNode, useState } from 'react'
import { v4 as uuid } from 'uuid'
import { Window } from '../../common/Window.tsx'
import { Budget } from '../fits/Budget.tsx'
import { ExpectedField } from '../fits/ExpectedField.tsx'
import { Formula } from '../fits/Formula.tsx'

const NEW: Omit<Calculation, 'order'> = { symbol: '', name: '', expression: '', unit: '', against: null }

/** Calculations of an investigation or a series, and what can stand in them. */
export interface Sheet {
  calculations: ById<Calculation>
  known: KnownValue[]
  shown: ShownCalculation[]
  /** Has the numbers that stand in expected values. */
  investigation: Investigation
  keep: (id: string, calculation: Omit<Calculation, 'order'>) => void
  remove: (id: string, name: string) => void
  /** What else can be done with a calculation. */
  actions?: (id: string, name: string) => ReactNode
}

/**
 * Calculations with their results, and the way to another one.
 *
 * @param about what can be calculated, shown while there is nothing
 * @param example of a formula
 */
export function CalculationSheet({
  sheet,
  about,
  example,
}: {
  sheet: Sheet
  about: string
  example: string
}) {
  const [writing, setWriting] = useState<string | null>(null)
  return (
    <>
      <Text as="h2" fontWeight="600">
        Calculations
      </Text>
      {sheet.shown.length === 0 && (
        <Text fontSize="small" color="ink.muted">
          {about}
        </Text>
      )}
      {sheet.shown.map((one) => (
        <Line key={one.id} sheet={sheet} shown={one} change={() => setWriting(one.id)} />
      ))}
      <Button size="2xs" variant="plain" color="petrol" paddingX="0" onClick={() => setWriting(uuid())}>
        <Plus size={14} /> Calculate something …
      </Button>
      {writing !== null && (
        <Editor id={writing} sheet={sheet} example={example} close={() => setWriting(null)} />
      )}
    </>
  )
}

/** A calculation: its formula with the numbers in place, and its result. */
function Line({ sheet, shown, change }: { sheet: Sheet; shown: ShownCalculation; change: () => void }) {
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
        {sheet.actions?.(id, name || symbol)}
        <CloseButton
          size="2xs"
          aria-label={`Remove ${name || symbol}`}
          onClick={() => sheet.remove(id, name || symbol)}
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
              {comparisonText(sheet.investigation, result, against)}
            </Text>
          )}
          <Budget reading={result} />
        </>
      )}
    </Box>
  )
}

/** The form of a calculation, with its errors. */
function Editor({
  id,
  sheet,
  example,
  close,
}: {
  id: string
  sheet: Sheet
  example: string
  close: () => void
}) {
  const { calculations, known } = sheet
  const { order, ...from } = calculations[id] ?? { order: 0, ...NEW }
  const [draft, setDraft] = useState<Omit<Calculation, 'order'>>(from)
  const set = (change: Partial<Calculation>) => setDraft((before) => ({ ...before, ...change }))
  const others = inOrder(calculations).filter(([other]) => other !== id)
  const isTaken =
    others.some(([, { symbol }]) => symbol === draft.symbol) ||
    known.some(({ name }) => name === draft.symbol)
  const wrongName = draft.symbol === '' ? null : nameText(draft.symbol, isTaken)
  const problem =
    draft.expression.trim() === ''
      ? null
      : calculationProblem({ calculations }, known, id, { order, ...draft })
  const isWhole = draft.symbol !== '' && draft.expression.trim() !== '' && !wrongName && !problem
  const keep = () => {
    if (!isWhole) return
    sheet.keep(id, draft)
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
            placeholder: example,
            fontFamily: 'mono',
            maxLength: 400,
          })}
          <ExpectedField
            investigation={sheet.investigation}
            unit={draft.unit}
            against={draft.against}
            set={(against) => set({ against })}
          />
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
