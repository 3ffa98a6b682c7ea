import { ExpressionError, readExpression } from '@apokinema/core/motion'
import { type ColumnContent, type SeriesColumn, seriesEdits } from '@apokinema/core/series'
import { parseUnit } from '@apokinema/core/units'
import { expressionProblemText } from '@apokinema/words/expressionProblems'
import { Button, Dialog, Field, HStack, Input, Stack, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { v4 as uuid } from 'uuid'
import { Select } from '../common/Select.tsx'
import { parseNumber } from '../common/TextField.tsx'
import { Window } from '../common/Window.tsx'
import { useSeriesAnalysis, useSeriesSession } from './SeriesContext.tsx'
import { freeSymbol, namedSources, shortName } from './trialSources.ts'

type Kind = ColumnContent['kind']

const KINDS: readonly (readonly [Kind, string])[] = [
  ['number', 'A condition: a number for each trial'],
  ['word', 'A condition: a word for each trial'],
  ['reading', 'A reading of each trial'],
  ['expression', 'Calculated from other columns'],
]

const SYMBOL = /^\p{L}[\p{L}\p{N}_]*$/u

/** What is filled in; all fields are text until it is done. */
interface Filled {
  kind: Kind
  name: string
  symbol: string
  unit: string
  error: string
  expression: string
  /** Index among the sources. */
  source: number
}

const filledFrom = ({ name, symbol, unit, content }: SeriesColumn, source: number): Filled => ({
  kind: content.kind,
  name,
  symbol,
  unit,
  error: content.kind === 'number' ? String(content.error) : '0',
  expression: content.kind === 'expression' ? content.expression : '',
  source,
})

/** Adds a column, or changes one. */
export function ColumnWindow({ id, close }: { id: string | null; close: () => void }) {
  const session = useSeriesSession()
  const analysis = useSeriesAnalysis()
  const { columns } = analysis.series
  const pattern = analysis.patternDocument()
  const sources = pattern ? namedSources(pattern) : []
  const others = Object.entries(columns).flatMap(([other, { symbol }]) => (other === id ? [] : [symbol]))
  const present = id === null ? null : columns[id]
  const sourceOf = (column: SeriesColumn) => {
    const { content } = column
    const key = content.kind === 'reading' ? JSON.stringify(content.source) : ''
    return Math.max(
      0,
      sources.findIndex(({ source }) => JSON.stringify(source) === key),
    )
  }
  const [filled, setFilled] = useState<Filled>(() =>
    present
      ? filledFrom(present, sourceOf(present))
      : { kind: 'number', name: '', symbol: '', unit: '', error: '0', expression: '', source: 0 },
  )
  const [wrong, setWrong] = useState<string | null>(null)
  const set = (change: Partial<Filled>) => {
    setFilled((now) => ({ ...now, ...change }))
    setWrong(null)
  }
  const chooseSource = (index: number) =>
    set({ source: index, name: shortName(sources[index]?.name ?? ''), symbol: sources[index]?.symbol ?? '' })
  const chooseKind = (kind: Kind) => {
    set({ kind })
    if (kind === 'reading' && filled.name === '') chooseSource(0)
  }
  const done = () => {
    const problem = problemOf(filled, others)
    if (problem) {
      setWrong(problem)
      return
    }
    const { kind, unit, expression, source } = filled
    const name = filled.name.trim() || expression.trim()
    const symbol = filled.symbol.trim() || freeSymbol(name.replace(/[^\p{L}\p{N}]+/gu, '_'), others)
    const content: ColumnContent =
      kind === 'number'
        ? { kind, error: parseNumber(filled.error || '0')! }
        : kind === 'word'
          ? { kind }
          : kind === 'reading'
            ? { kind, source: sources[source].source }
            : { kind, expression }
    session.edit(
      id === null ? `add ${name}` : `change ${name}`,
      seriesEdits.setColumn(id ?? uuid(), { name, symbol, unit: unit.trim(), content }),
    )
    close()
  }
  const { kind } = filled
  const field = (
    label: string,
    key: 'name' | 'symbol' | 'unit' | 'error' | 'expression',
    { help = '', placeholder = '', width = '' } = {},
  ) => (
    <Field.Root {...(width && { width })}>
      <Field.Label>{label}</Field.Label>
      <Input
        size="sm"
        value={filled[key]}
        placeholder={placeholder}
        maxLength={key === 'expression' ? 400 : 120}
        onChange={(event) => set({ [key]: event.currentTarget.value })}
        onKeyDown={(event) => {
          if (event.key === 'Enter') done()
        }}
      />
      {help && <Field.HelperText>{help}</Field.HelperText>}
    </Field.Root>
  )
  return (
    <Window title={id === null ? 'Add a column' : 'Change the column'} open close={close}>
      <Dialog.Body>
        <Stack gap="3">
          <Field.Root>
            <Field.Label>What it holds</Field.Label>
            <Select label="What it holds" size="sm" value={kind} options={KINDS} choose={chooseKind} />
          </Field.Root>
          {kind === 'reading' &&
            (sources.length > 0 ? (
              <Field.Root>
                <Field.Label>Reading</Field.Label>
                <Select
                  label="Reading"
                  size="sm"
                  value={String(filled.source)}
                  options={sources.map(({ name }, i) => [String(i), name] as const)}
                  choose={(index) => chooseSource(Number(index))}
                />
              </Field.Root>
            ) : (
              <Text color="ink.muted">Add a measured trial first: its readings can be chosen here.</Text>
            ))}
          {field('Name', 'name', {
            placeholder:
              kind === 'word' ? 'surface' : kind === 'expression' ? 'as the expression' : 'plank angle',
          })}
          {kind === 'expression' &&
            field('Expression', 'expression', {
              placeholder: 'sin(theta)',
              help: others.length > 0 ? `You can use ${others.join(', ')}.` : '',
            })}
          {kind !== 'word' && (
            <HStack gap="3" align="flex-start">
              {field('Symbol', 'symbol', { placeholder: 'theta', width: '8rem' })}
              {field('Unit', 'unit', {
                placeholder: kind === 'number' ? '°' : 'as it comes',
                width: '8rem',
              })}
              {kind === 'number' && field('Error of each', 'error', { placeholder: '0.5', width: '8rem' })}
            </HStack>
          )}
          {wrong && (
            <Text color="alarm" role="alert">
              {wrong}
            </Text>
          )}
        </Stack>
      </Dialog.Body>
      <Dialog.Footer>
        <Button variant="outline" onClick={close}>
          Cancel
        </Button>
        <Button colorPalette="brand" disabled={kind === 'reading' && sources.length === 0} onClick={done}>
          {id === null ? 'Add the column' : 'Change'}
        </Button>
      </Dialog.Footer>
    </Window>
  )
}

/** Returns why what is filled in makes no column; null if it does. */
function problemOf(
  { kind, name, symbol, unit, error, expression }: Filled,
  others: readonly string[],
): string | null {
  if (name.trim() === '' && (kind !== 'expression' || expression.trim() === '')) return 'Give it a name.'
  const own = symbol.trim()
  if (own !== '' && !SYMBOL.test(own)) return 'A symbol is a letter, and then letters, digits and _.'
  if (others.includes(own)) return `There is another column with the symbol ${own}.`
  if (kind !== 'word' && !parseUnit(unit)) return `“${unit}” is not a known unit.`
  if (kind === 'number') {
    const number = parseNumber(error || '0')
    if (number === null || number < 0) return 'The error is a number such as 0.5.'
  }
  if (kind !== 'expression') return null
  try {
    const { names } = readExpression(expression)
    const unknown = names.find((one) => !others.includes(one))
    return unknown === undefined ? null : expressionProblemText({ code: 'unknown-name', name: unknown })
  } catch (problem) {
    if (problem instanceof ExpressionError) return expressionProblemText(problem.problem)
    throw problem
  }
}
