import {
  type SeriesAnalysis,
  type SeriesMean,
  seriesEdits,
  type TableColumn,
  type TableTrial,
} from '@apokinema/core/series'
import { measurement, significant } from '@apokinema/core/units'
import { trialsBlock } from '@apokinema/words/report/seriesChoices'
import { Box, Button, Flex, HStack, Stack, Table, Text } from '@chakra-ui/react'
import { ArrowDown, ArrowUp, Plus } from 'lucide-react'
import { useDeferredValue, useState } from 'react'
import { MoreMenu } from '../common/MoreMenu.tsx'
import { usePlainLinks } from '../common/plainLinks.ts'
import { AddTrials } from './AddTrials.tsx'
import { ColumnWindow } from './ColumnWindow.tsx'
import { TrialsReportButton } from './report/TrialsReportButton.tsx'
import { useSeriesAnalysis, useSeriesSession } from './SeriesContext.tsx'
import { ROW_STYLES, TrialRow } from './TrialRow.tsx'

/** The table of trials: a row a trial, its conditions, its readings and what is to be looked at. */
export function TrialsTable() {
  const analysis = useSeriesAnalysis()
  const { table, series } = analysis
  // The numbers come first: laws through many trials take as long as the table.
  const settled = useDeferredValue<SeriesAnalysis | null>(analysis, null)
  const outliers = settled?.fits().flatMap((fit) => fit.outliers) ?? []
  const [column, setColumn] = useState<string | 'new' | null>(null)
  const columns = table.columns
  const followLink = usePlainLinks()
  return (
    <Box flex="none">
      <Box overflowX="auto">
        <Table.Root size="sm" aria-label="Trials" css={ROW_STYLES} onClick={followLink}>
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
                <TrialsReportButton what="the table of trials" content={trialsBlock()} />
              </Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {table.groups().map((group) => (
              <GroupRows
                key={group.trials[0]?.id ?? 'none'}
                trials={group.trials}
                columns={columns}
                outliers={outliers}
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
  outliers,
  isGrouped,
}: {
  trials: readonly TableTrial[]
  columns: readonly TableColumn[]
  /** Ids of the trials that lie off a line. */
  outliers: readonly string[]
  isGrouped: boolean
}) {
  return (
    <>
      {trials.map((trial) => (
        <TrialRow key={trial.id} row={trial} columns={columns} isOutlier={outliers.includes(trial.id)} />
      ))}
      {isGrouped && <StatisticsRows trials={trials} columns={columns} />}
    </>
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
