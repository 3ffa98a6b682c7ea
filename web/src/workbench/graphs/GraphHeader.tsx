import { analyse } from '@apokinema/core/analysis'
import { type SummaryValue, stretchSummary } from '@apokinema/core/fitting'
import { type GraphDescription, lowered, slopeUnit } from '@apokinema/core/graphs'
import { edits, type Graph, inOrder } from '@apokinema/core/investigation'
import { measurement, significant, withUnit } from '@apokinema/core/units'
import { columnText } from '@apokinema/words/columns'
import { definitionText } from '@apokinema/words/quantities'
import { graphBlock } from '@apokinema/words/report/choices'
import { Box, CloseButton, Flex, IconButton, Text } from '@chakra-ui/react'
import { Fragment, memo, type ReactNode, useMemo } from 'react'
import { shownOf, useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { COLOUR } from '../../theme/palettes.ts'
import { seriesColour } from '../chart/seriesColour.ts'
import { FitMenu } from '../fits/FitMenu.tsx'
import { useFitting } from '../fits/useFitting.ts'
import { Marker } from '../Marker.tsx'
import { ReportButton } from '../ReportButton.tsx'
import { SymbolText } from '../SymbolText.tsx'
import { AxesChoice } from './AxesChoice.tsx'
import { AxisMenu } from './AxisMenu.tsx'
import { DerivationChoice } from './DerivationChoice.tsx'
import { MarkStyleMenu } from './MarkStyleMenu.tsx'
import { TakeAway } from './TakeAway.tsx'

/** The head of a graph: its quantities and derivation, a summary of the chosen stretch, and its menus. */
export const GraphHeader = memo(function GraphHeader({
  id,
  graph,
  description,
  stretch,
  range,
  handle,
}: {
  id: string
  graph: Graph
  description: GraphDescription
  /** The chosen stretch; null for none. */
  stretch: string | null
  /** Its frames, or those of the one being drawn. */
  range: { from: number; to: number } | null
  /** Handle by which the graph is dragged to another place. */
  handle: ReactNode
}) {
  return (
    <Flex
      align="center"
      columnGap="1.5"
      paddingLeft="1"
      paddingRight="2"
      paddingTop="1"
      minHeight="12"
      position="relative"
      flexWrap="wrap"
    >
      {handle}
      <Names id={id} graph={graph} description={description} />
      <AxesChoice id={id} axes={graph.axes} />
      {description.series.length + description.overlays.length > 1 && <Legend description={description} />}
      <Summary id={id} graph={graph} description={description} range={range} />
      <Tools id={id} graph={graph} description={description} stretch={stretch} />
    </Flex>
  )
})

interface Described {
  id: string
  graph: Graph
  description: GraphDescription
}

/** Quantities of a graph, and their derivation. */
const Names = memo(function Names({ id, graph, description }: Described) {
  const session = useSession()
  const derivation = useInvestigation((now) => now.derivation)
  const { title, x: xAxis, y: yAxis } = description
  const [{ column, quantity }] = description.series
  return (
    <Box minWidth="11rem" flex="1">
      <Flex columnGap="3" align="baseline">
        <Text fontWeight="600" truncate title={definitionText(quantity)}>
          {description.isTime || graph.title ? (
            title
          ) : (
            <>
              <SymbolText symbol={yAxis.symbol} subscript={yAxis.subscript} /> against{' '}
              <SymbolText symbol={xAxis.symbol} subscript={xAxis.subscript} />
            </>
          )}
        </Text>
        <AxisMenu id={id} graph={graph} axis={yAxis} direction="y" />
      </Flex>
      {column.notes.length > 0 && (
        <Box title={columnText(column) ?? undefined} display="inline-block">
          <DerivationChoice
            label={`How ${lowered(title)} is derived here`}
            value={graph.derivation}
            fallback={derivation}
            choose={(chosen) =>
              session.edit('derive a graph in its own way', edits.changeGraph(id, { derivation: chosen }))
            }
          />
        </Box>
      )}
    </Box>
  )
})

/** Summary of a stretch, or how one is chosen. It changes with every move of the stretch's ends. */
function Summary({
  id,
  graph,
  description,
  range,
}: Described & { range: { from: number; to: number } | null }) {
  const isFirst = useInvestigation(({ graphs }) => {
    const first = inOrder(graphs).find(([, { body }]) => body === graph.body)
    return first?.[0] === id
  })
  const hasStretches = useInvestigation(({ stretches }) => Object.keys(stretches).length > 0)
  const [{ table, column }] = description.series
  const eachSecond = slopeUnit(column, table.length)
  const summary = range ? stretchSummary(table, graph.quantity, range) : null
  if (!summary || summary.points === 0)
    return isFirst && !hasStretches ? <Line>drag along the graph to choose a stretch</Line> : null
  const nothing = nothingSeen(summary, description, eachSecond)
  const told: [string, SummaryValue, string][] = [
    ['mean', summary.mean, column.unit],
    ['change', summary.change, column.unit],
    ['slope', summary.slope, eachSecond],
  ]
  return (
    <Line isSummary>
      {told.map(([what, value, of], i) => (
        <Fragment key={what}>
          {i > 0 && ' · '}
          <span style={{ whiteSpace: 'nowrap' }}>
            {what} {measurement(value.value, value.error, of)}
          </span>
        </Fragment>
      ))}
      {nothing && ` · ${nothing}`}
    </Line>
  )
}

/** A line of text below a graph's name. */
function Line({ children, isSummary = false }: { children: ReactNode; isSummary?: boolean }) {
  return (
    <Text
      fontSize="small"
      color="ink.muted"
      order="1"
      flexBasis="100%"
      paddingLeft="6"
      paddingBottom="1"
      {...(isSummary && {
        title: 'Standard errors by the marks alone, which neighbouring points share',
        'data-summary': true,
      })}
    >
      {children}
    </Text>
  )
}

/** Menus and buttons of a graph. */
const Tools = memo(function Tools({
  id,
  graph,
  description,
  stretch,
}: Described & { stretch: string | null }) {
  const session = useSession()
  // A description is replaced when a quantity is redefined.
  const against = useMemo(
    () => (description.isTime ? null : analyse(shownOf(session.store.getState())).quantity(graph.xQuantity)),
    [session, description, graph.xQuantity],
  )
  const { title, x: xAxis, y: yAxis } = description
  const [{ table, column, quantity }] = description.series
  const name = lowered(title)
  const isFitted = yAxis.transform.id === 'none' && xAxis.transform.id === 'none'
  const fitTo = useFitting(id, graph)
  return (
    <Flex align="center" gap="1.5" flex="none" marginLeft="auto">
      {isFitted && column.rows.length > 1 && (
        <FitMenu
          look="outlined"
          label={stretch ? 'Fit…' : 'Fit all…'}
          quantity={quantity}
          xQuantity={against}
          onChoose={(choice) =>
            fitTo(choice, stretch, () => ({
              from: table.frames[column.rows[0]],
              to: table.frames[column.rows.at(-1)!],
            }))
          }
        />
      )}
      <IconButton
        size="2xs"
        variant={graph.errorBars ? 'subtle' : 'ghost'}
        aria-pressed={graph.errorBars}
        aria-label={`Error bars of ${name}`}
        title="Error bars: one standard error; thin beyond it, what smoothing can be off by"
        fontSize="lead"
        onClick={() =>
          session.edit(
            graph.errorBars ? 'hide error bars' : 'show error bars',
            edits.changeGraph(id, { errorBars: !graph.errorBars }),
          )
        }
      >
        ±
      </IconButton>
      <MarkStyleMenu id={id} graph={graph} description={description} />
      <ReportButton what={lowered(title)} content={graphBlock(id)} />
      <TakeAway id={id} title={title} />
      <CloseButton
        size="2xs"
        aria-label={`Hide ${name}`}
        title="Hide this graph"
        onClick={() => session.edit(`hide ${name}`, edits.removeGraph(id))}
      />
    </Flex>
  )
})

/** Legend of a graph with more than one series. */
function Legend({ description: { series, overlays } }: { description: GraphDescription }) {
  const { bodies } = useInvestigation()
  return (
    <Flex
      order="1"
      flexBasis="100%"
      paddingLeft="6"
      columnGap="4"
      flexWrap="wrap"
      fontSize="small"
      data-legend
    >
      {series.map((one) => (
        <Flex key={one.id ?? 'main'} align="center" gap="1.5">
          <Marker shape={one.shape} colour={seriesColour(one, COLOUR)} />
          <Text truncate maxWidth="12rem" title={bodies[one.body].name}>
            {bodies[one.body].name},{' '}
            <SymbolText symbol={one.quantity.symbol} subscript={one.quantity.subscript} />
          </Text>
        </Flex>
      ))}
      {overlays.map(({ id, name }) => (
        <Flex key={id} align="center" gap="1.5" minWidth="0">
          <Box width="16px" height="2px" flex="none" bg="outline" aria-hidden />
          <Text truncate maxWidth="12rem" title={name}>
            {name}
          </Text>
        </Flex>
      ))}
    </Flex>
  )
}

/** Number of standard errors below which a mean or a slope counts as zero. */
const NOTHING = 2

/** Names of the rates of change of quantities. */
const CHANGES: Record<string, string> = {
  x: 'velocity',
  y: 'velocity',
  s: 'velocity',
  r: 'velocity',
  vx: 'acceleration',
  vy: 'acceleration',
  v: 'change of speed',
  theta: 'angular velocity',
  turn: 'spin',
  omega: 'angular acceleration',
  spin: 'angular acceleration',
}

/** Returns true if the values of a stretch differ from zero, otherwise a sentence. */
function nothingSeen(
  { mean, slope, points }: ReturnType<typeof stretchSummary>,
  { y: yAxis, series: [{ column }] }: GraphDescription,
  eachSecond: string,
): string | null {
  if (points < 3) return null
  const above = (error: number, unit: string) => `± ${withUnit(significant(NOTHING * error, 2), unit)}`
  const isPlace = column.position !== null && column.map === null
  if (!isPlace && Math.abs(mean.value) < NOTHING * mean.error)
    return `no ${lowered(yAxis.name)} seen above ${above(mean.error, column.unit)}`
  if (Math.abs(slope.value) < NOTHING * slope.error)
    return `no ${CHANGES[yAxis.quantity] ?? 'change'} seen above ${above(slope.error, eachSecond)}`
  return null
}
