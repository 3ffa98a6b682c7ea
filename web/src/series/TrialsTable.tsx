import { API } from '@apokinema/core/api'
import {
  type Cell,
  isSetUp,
  patternIdOf,
  type SeriesMean,
  seriesEdits,
  type TableColumn,
  type TableTrial,
  totalError,
} from '@apokinema/core/series'
import { measurement, significant } from '@apokinema/core/units'
import { cellTroubleText, measuringText, settingsText, viewText } from '@apokinema/words/series'
import { Box, Button, Center, Flex, HStack, Image, Stack, Table, Text } from '@chakra-ui/react'
import { ArrowDown, ArrowUp, Film, Plus } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { MoreMenu } from '../common/MoreMenu.tsx'
import { parseMeasured, TextField } from '../common/TextField.tsx'
import { AddTrials } from './AddTrials.tsx'
import { ColumnWindow } from './ColumnWindow.tsx'
import { LeaveOutWindow } from './LeaveOutWindow.tsx'
import { useOpenSeries, useSeriesAnalysis, useSeriesSession } from './SeriesContext.tsx'
import { useTakeOver } from './SettingsNotice.tsx'

/** The table of trials: a row a trial, its conditions, its readings and what is to be looked at. */
export function TrialsTable() {
  const { table, series } = useSeriesAnalysis()
  const [column, setColumn] = useState<string | 'new' | null>(null)
  const columns = table.columns
  return (
    <Box flex="none">
      <Box overflowX="auto">
        <Table.Root size="sm" aria-label="Trials">
          <Table.Header>
            <Table.Row bg="paper">
              <Table.ColumnHeader width="108px">
                <Box srOnly>Picture</Box>
              </Table.ColumnHeader>
              <Table.ColumnHeader color="ink.muted">Trial</Table.ColumnHeader>
              {columns.map((one) => (
                <Table.ColumnHeader key={one.id} color="ink.muted" whiteSpace="nowrap">
                  <ColumnHead column={one} change={() => setColumn(one.id)} />
                </Table.ColumnHeader>
              ))}
              <Table.ColumnHeader color="ink.muted">To look at</Table.ColumnHeader>
              <Table.ColumnHeader width="40px">
                <Box srOnly>More</Box>
              </Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {table.groups().map((group) => (
              <GroupRows
                key={group.trials[0]?.id ?? 'none'}
                trials={group.trials}
                columns={columns}
                isGrouped={series.grouped !== null}
              />
            ))}
            {series.grouped === null && <StatisticsRows trials={table.rows()} columns={columns} />}
          </Table.Body>
        </Table.Root>
      </Box>
      <Flex gap="2" padding="3" align="center" wrap="wrap" borderBottom="1px solid" borderColor="line">
        <AddTrials />
        <Button size="sm" variant="outline" onClick={() => setColumn('new')}>
          <Plus size={15} aria-hidden /> Add a column
        </Button>
      </Flex>
      {column !== null && (
        <ColumnWindow id={column === 'new' ? null : column} close={() => setColumn(null)} />
      )}
    </Box>
  )
}

/** The head of a column: symbol or name, unit, and what can be done with it. */
function ColumnHead({ column: { id, column, unit }, change }: { column: TableColumn; change: () => void }) {
  const session = useSeriesSession()
  const { series } = useSeriesAnalysis()
  const { sorted, grouped } = series
  const isSorted = sorted?.column === id
  const isTyped = column.content.kind === 'number' || column.content.kind === 'word'
  const sort = (descending: boolean) =>
    session.edit('sort the trials', seriesEdits.sortBy({ column: id, descending }))
  return (
    <HStack gap="1">
      <Box>
        <Text fontWeight="600" color="ink">
          {column.name}
        </Text>
        <Text fontSize="small" fontWeight="400">
          {isTyped ? 'condition' : column.content.kind === 'reading' ? 'measured' : 'calculated'}
          {unit && `, ${unit}`}
        </Text>
      </Box>
      {isSorted && (sorted.descending ? <ArrowDown size={13} /> : <ArrowUp size={13} />)}
      <MoreMenu
        of={column.name}
        size="2xs"
        choices={[
          { label: 'Change …', act: change },
          { label: 'Sort, least first', act: () => sort(false) },
          { label: 'Sort, greatest first', act: () => sort(true) },
          ...(sorted
            ? [
                {
                  label: 'In the order in which they were added',
                  act: () => session.edit('sort the trials', seriesEdits.sortBy(null)),
                },
              ]
            : []),
          grouped === id
            ? { label: 'Don’t group', act: () => session.edit('group the trials', seriesEdits.groupBy(null)) }
            : {
                label: 'Group equal values',
                act: () => session.edit('group the trials', seriesEdits.groupBy(id)),
              },
          {
            label: 'Remove',
            grave: true,
            act: () => session.edit(`remove ${column.name}`, seriesEdits.removeColumn(id)),
          },
        ]}
      />
    </HStack>
  )
}

function GroupRows({
  trials,
  columns,
  isGrouped,
}: {
  trials: readonly TableTrial[]
  columns: readonly TableColumn[]
  isGrouped: boolean
}) {
  return (
    <>
      {trials.map((trial) => (
        <TrialRow key={trial.id} row={trial} columns={columns} />
      ))}
      {isGrouped && <StatisticsRows trials={trials} columns={columns} />}
    </>
  )
}

function TrialRow({ row, columns }: { row: TableTrial; columns: readonly TableColumn[] }) {
  const session = useSeriesSession()
  const analysis = useSeriesAnalysis()
  const { table, series, fits } = analysis
  const takeOver = useTakeOver()
  const { listed } = useOpenSeries()
  const [isLeavingOut, setLeavingOut] = useState(false)
  const { id, trial } = row
  const about = listed.get(id)
  const title = about?.title ?? 'A deleted investigation'
  const isOut = trial.leftOut !== null
  const outlying = fits().some(({ outliers }) => outliers.includes(id))
  const differing = analysis.differing().find((one) => one.id === id)
  const isBare = row.document !== null && !isSetUp(row.document)
  const notes = [
    isBare ? 'Not set up yet.' : '',
    differing ? `Differs in ${settingsText(differing.parts)}.` : '',
    viewText(trial.view),
    trial.measuring?.kind === 'question' ? measuringText(trial.measuring.why) : '',
    outlying ? 'Lies off the line.' : '',
    isOut ? `Left out: ${trial.leftOut}` : '',
  ].filter((note) => note !== '')
  return (
    <Table.Row data-trial={id} bg="panel" opacity={isOut ? 0.65 : 1}>
      <Table.Cell paddingY="1.5">
        <Link to={`/investigations/${id}`} aria-label={`Open ${title}`}>
          <Center
            width="76px"
            height="43px"
            bg="stage"
            borderRadius="4px"
            overflow="hidden"
            color="whiteAlpha.600"
          >
            {about?.poster ? (
              <Image src={API.poster(id, about.poster)} alt="" width="100%" height="100%" objectFit="cover" />
            ) : (
              <Film size={18} aria-hidden />
            )}
          </Center>
        </Link>
      </Table.Cell>
      <Table.Cell maxWidth="13rem">
        <Text fontWeight="600" truncate asChild>
          <Link to={`/investigations/${id}`} title={title}>
            {title}
          </Link>
        </Text>
        {patternIdOf(series) === id && (
          <Text fontSize="small" color="ink.muted">
            the others are set up like this one
          </Text>
        )}
      </Table.Cell>
      {columns.map((column) => (
        <Table.Cell key={column.id} textDecoration={isOut ? 'line-through' : undefined}>
          <TrialCell column={column} cell={table.cell(id, column.id)} trial={id} title={title} />
        </Table.Cell>
      ))}
      <Table.Cell
        color={notes.length > 0 ? 'ink' : 'ink.muted'}
        fontSize="small"
        minWidth="9rem"
        maxWidth="15rem"
      >
        {notes.length > 0 ? notes.join(' ') : '–'}
      </Table.Cell>
      <Table.Cell>
        <MoreMenu
          of={title}
          size="sm"
          choices={[
            isOut
              ? {
                  label: 'Count it again',
                  act: () => session.edit('count a trial again', seriesEdits.leaveOut(id, null)),
                }
              : { label: 'Leave out …', act: () => setLeavingOut(true) },
            ...(patternIdOf(series) !== id && !isBare && trial.measuring?.kind !== 'waiting'
              ? [
                  {
                    label: 'Measure it by itself',
                    act: () =>
                      session.edit('measure a trial', seriesEdits.setMeasuring(id, { kind: 'waiting' })),
                  },
                ]
              : []),
            ...(differing
              ? [{ label: 'Make it like the first one', act: () => void takeOver([differing]) }]
              : []),
            {
              label: 'Set up new trials like this one',
              act: () => session.edit('choose the trial to set up like', seriesEdits.setPattern(id)),
            },
            {
              label: 'Take out of the series',
              grave: true,
              act: () => session.edit(`take ${title} out of the series`, seriesEdits.removeTrial(id)),
            },
          ]}
        />
        {isLeavingOut && <LeaveOutWindow trial={id} title={title} close={() => setLeavingOut(false)} />}
      </Table.Cell>
    </Table.Row>
  )
}

/** A field in the table looks like one when it is pointed at, in use, or empty. */
const QUIET = {
  minWidth: '7rem',
  borderColor: 'transparent',
  _hover: { borderColor: 'line' },
  _placeholderShown: { borderColor: 'line' },
  placeholder: ' ',
} as const

/** A cell: a field where something is typed, a number with its error where something is measured. */
function TrialCell({
  column: { id, column },
  cell,
  trial,
  title,
}: {
  column: TableColumn
  cell: Cell
  trial: string
  title: string
}) {
  const session = useSeriesSession()
  const { documents, isLoading } = useOpenSeries()
  const { content } = column
  const type = (typed: Parameters<typeof seriesEdits.setTyped>[2]) => {
    session.edit(`type ${column.name}`, seriesEdits.setTyped(trial, id, typed))
    return null
  }
  if (content.kind === 'word')
    return (
      <TextField
        label={`${column.name} of ${title}`}
        hideLabel
        {...QUIET}
        maxLength={120}
        value={cell.kind === 'word' ? cell.word : ''}
        onCommit={(text) => type(text === '' ? null : { kind: 'word', word: text })}
      />
    )
  if (content.kind === 'number') {
    const shown = cell.kind === 'number' ? measurement(cell.value.value, cell.value.own, '') : ''
    return (
      <TextField
        label={`${column.name} of ${title}`}
        hideLabel
        {...QUIET}
        inputMode="decimal"
        value={shown}
        onCommit={(text) => {
          if (text === '') return type(null)
          const measured = parseMeasured(text)
          if (!measured) return 'A number such as 12.0 ± 0.5.'
          const isStated = /±|\+-|\+\/-/.test(text)
          return type({
            kind: 'number',
            value: measured.value,
            error: isStated ? measured.error : content.error,
          })
        }}
      />
    )
  }
  if (cell.kind === 'number') {
    const { value } = cell.value
    const error = totalError(cell.value)
    return (
      <Text fontFamily="mono" whiteSpace="nowrap" data-value={value} data-error={error}>
        {measurement(value, error, '')}
      </Text>
    )
  }
  if (isLoading && !documents.has(trial)) return <Text color="ink.muted">…</Text>
  return (
    <Text color="ink.muted" fontSize="small">
      {cell.kind === 'trouble' ? cellTroubleText(cell.trouble) : '–'}
    </Text>
  )
}

/** The mean and the scatter of each column with numbers. */
function StatisticsRows({
  trials,
  columns,
}: {
  trials: readonly TableTrial[]
  columns: readonly TableColumn[]
}) {
  const { table } = useSeriesAnalysis()
  if (trials.length < 2 || table.varyingConditions(trials).length > 0) return null
  const means = columns.map((column) => table.mean(column.id, trials))
  const most = Math.max(0, ...means.map((mean) => mean?.count ?? 0))
  if (most < 2) return null
  const rows: [string, (mean: SeriesMean) => string][] = [
    ['Mean', ({ mean }) => measurement(mean.value, mean.error, '')],
    ['Standard deviation', ({ deviation }) => (Number.isNaN(deviation) ? '–' : significant(deviation, 2))],
  ]
  return rows.map(([name, text]) => (
    <Table.Row key={name} bg="paper" color="ink.muted">
      <Table.Cell colSpan={2} fontWeight="600">
        <Stack gap="0">{name}</Stack>
      </Table.Cell>
      {means.map((mean, i) => (
        <Table.Cell key={columns[i].id} fontFamily="mono" whiteSpace="nowrap">
          {mean ? text(mean) : ''}
        </Table.Cell>
      ))}
      <Table.Cell colSpan={2} fontSize="small">
        {name === 'Mean' && `of ${most} trials`}
      </Table.Cell>
    </Table.Row>
  ))
}
