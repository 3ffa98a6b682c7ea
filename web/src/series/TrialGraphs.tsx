import { availableRelations } from '@apokinema/core/fitting'
import { lowered } from '@apokinema/core/graphs'
import { inOrder, type ModelId } from '@apokinema/core/investigation'
import { type SeriesGraph, seriesEdits } from '@apokinema/core/series'
import { graphBlock } from '@apokinema/words/report/choices'
import { Box, Button, Flex, HStack, Text } from '@chakra-ui/react'
import { Columns2, Plus } from 'lucide-react'
import { useMemo } from 'react'
import { v4 as uuid } from 'uuid'
import { MoreMenu } from '../common/MoreMenu.tsx'
import { Select } from '../common/Select.tsx'
import type { GraphDrawing } from '../workbench/chart/graphDrawing.ts'
import { AddMotion, MotionGraphs } from './MotionGraphs.tsx'
import { TrialsReportButton } from './report/TrialsReportButton.tsx'
import { useSeriesAnalysis, useSeriesSession } from './SeriesContext.tsx'
import { TrialPlot } from './TrialPlot.tsx'
import { trialDrawing } from './trialDrawing.ts'

/**
 * The graphs of a series, a point for each trial.
 *
 * @param compare shows two trials in step; null: there are no two
 */
export default function TrialGraphs({ compare }: { compare: (() => void) | null }) {
  const session = useSeriesSession()
  const { series, table } = useSeriesAnalysis()
  const numbers = table.columns.filter(({ column }) => column.content.kind !== 'word')
  const add = () => {
    const [x, y] = firstColumns(numbers.map(({ id, column }) => ({ id, kind: column.content.kind })))
    session.edit('add a graph', seriesEdits.setGraph(uuid(), { x, y, title: '' }))
  }
  return (
    <Box flex="1" padding="3">
      {inOrder(series.graphs).map(([id, graph]) => (
        <TrialGraph key={id} id={id} graph={graph} />
      ))}
      <MotionGraphs />
      <HStack gap="2" wrap="wrap">
        {numbers.length >= 2 && (
          <Button size="sm" variant="outline" onClick={add}>
            <Plus size={15} aria-hidden /> Add a graph
          </Button>
        )}
        <AddMotion />
        {compare && (
          <Button size="sm" variant="outline" onClick={compare}>
            <Columns2 size={15} aria-hidden /> Two trials in step
          </Button>
        )}
      </HStack>
      {numbers.length < 2 && (
        <Text color="ink.muted" maxWidth="34rem" marginTop="2">
          With two columns of numbers, such as an angle and an acceleration, you can draw one against the
          other here and fit a line through the trials.
        </Text>
      )}
    </Box>
  )
}

/** Returns the columns that a new graph shows: what was typed along x, what was measured along y. */
function firstColumns(columns: readonly { id: string; kind: string }[]): [string, string] {
  const y = columns.find(({ kind }) => kind === 'reading') ?? columns[columns.length - 1]
  const others = columns.filter((one) => one !== y)
  const x = others.find(({ kind }) => kind === 'expression') ?? others[0]
  return [x.id, y.id]
}

function TrialGraph({ id, graph }: { id: string; graph: SeriesGraph }) {
  const session = useSeriesSession()
  const analysis = useSeriesAnalysis()
  const fits = analysis.fitsOf(id)
  const drawing = useMemo(() => trialDrawing(analysis, graph, fits), [analysis, graph, fits])
  const numbers = analysis.table.columns.filter(({ column }) => column.content.kind !== 'word')
  const options = numbers.map(({ id: column, column: { name } }) => [column, name] as const)
  if (!drawing) return null
  const { description } = drawing.content
  const [{ points }] = description.series
  const change = (columns: Partial<SeriesGraph>) =>
    session.edit('choose what a graph shows', seriesEdits.setGraph(id, { ...graph, ...columns }))
  return (
    <Box as="section" marginBottom="4" data-graph={id}>
      <Flex gap="2" align="center" wrap="wrap" marginBottom="1">
        <Text as="h2" fontWeight="600">
          {description.title}
        </Text>
        <Text color="ink.muted" fontSize="small">
          {points.length} of {Object.keys(analysis.series.trials).length} trials
        </Text>
        <Box flex="1" />
        <HStack gap="1" wrap="wrap">
          <Select label="Up" width="11rem" value={graph.y} options={options} choose={(y) => change({ y })} />
          <Text color="ink.muted" fontSize="small">
            against
          </Text>
          <Select
            label="Along"
            width="11rem"
            value={graph.x}
            options={options}
            choose={(x) => change({ x })}
          />
          <FitChoice graph={id} drawing={drawing} />
          <TrialsReportButton what={lowered(description.title)} content={graphBlock(id)} />
          <MoreMenu
            of={description.title}
            size="2xs"
            choices={[
              {
                label: 'Remove',
                grave: true,
                act: () => session.edit('remove a graph', seriesEdits.removeGraph(id)),
              },
            ]}
          />
        </HStack>
      </Flex>
      <TrialPlot drawing={drawing} about={`${points.length} trials`} />
    </Box>
  )
}

/** Chooses a law to be fitted through the trials. */
function FitChoice({ graph, drawing }: { graph: string; drawing: GraphDrawing }) {
  const session = useSeriesSession()
  const { x, series } = drawing.content.description
  const [{ quantity }] = series
  const models = availableRelations(quantity, { ...quantity, id: x.quantity, symbol: x.symbol, name: x.name })
  const options = [
    ['', 'Fit …'] as const,
    ...models.flatMap(({ models: some }) =>
      some.map(({ model, name }) => [model.id as string, name] as const),
    ),
  ]
  return (
    <Select
      label="Fit a law through the trials"
      width="8rem"
      value=""
      options={options}
      choose={(model) => {
        if (model !== '')
          session.edit('fit a law through the trials', seriesEdits.addFit(uuid(), graph, model as ModelId))
      }}
    />
  )
}
