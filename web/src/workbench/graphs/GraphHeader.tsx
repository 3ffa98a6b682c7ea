import { stretchSummary, type Told } from '@apokinema/core/fitting'
import { edits, type Graph } from '@apokinema/core/investigation'
import { type MotionTable, QUANTITIES, quantityUnit } from '@apokinema/core/motion'
import { measurement } from '@apokinema/core/units'
import { Box, CloseButton, Flex, IconButton, Text } from '@chakra-ui/react'
import { Fragment } from 'react'
import { v4 as uuid } from 'uuid'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { workbench } from '../workbenchStore.ts'
import { AxesChoice } from './AxesChoice.tsx'
import { DerivationChoice } from './DerivationChoice.tsx'
import { FitMenu } from './FitMenu.tsx'
import { SymbolText } from './Quantities.tsx'

/** Words that stand beside a graph's title, and below it where there is no room. */
const BELOW = { order: { base: 1, xl: 0 }, flexBasis: { base: '100%', xl: 'auto' } } as const

/** Above a graph: what it shows and how that is derived, what its stretch says at a glance, and what can be done with it. */
export function GraphHeader({
  id,
  graph,
  table,
  stretch,
  range,
}: {
  id: string
  graph: Graph
  table: MotionTable
  /** The chosen stretch; null where there is none. */
  stretch: string | null
  /** Its frames, or those of one that is being drawn. */
  range: { from: number; to: number } | null
}) {
  const session = useSession()
  const { derivation } = useInvestigation()
  const quantity = QUANTITIES[graph.quantity]
  const column = table.column(graph.quantity)
  const { unit } = column
  const summary = range ? stretchSummary(table, graph.quantity, range) : null
  const perSecond = quantityUnit(table.length, quantity.order + 1, quantity.component)
  const told: [string, Told, string][] = summary
    ? [
        ['mean', summary.mean, unit],
        ['change', summary.change, unit],
        ['slope', summary.slope, perSecond],
      ]
    : []
  return (
    <Flex
      align="center"
      columnGap="2"
      paddingLeft="4"
      paddingRight="2"
      paddingTop="1"
      minHeight="12"
      position="relative"
      flexWrap="wrap"
    >
      <Box>
        <Flex columnGap="3">
          <Text fontWeight="600" whiteSpace="nowrap">
            {quantity.name}
          </Text>
          <Text whiteSpace="nowrap" color="ink.muted">
            <SymbolText symbol={quantity.symbol} subscript={quantity.subscript} /> in {unit}
          </Text>
        </Flex>
        {quantity.order > 0 && (
          <Box title={column.note ?? undefined}>
            <DerivationChoice
              label={`How ${quantity.name.toLowerCase()} is derived here`}
              value={graph.derivation}
              usual={derivation}
              choose={(chosen) =>
                session.edit('derive a graph in its own way', edits.setGraphDerivation(id, chosen))
              }
            />
          </Box>
        )}
      </Box>
      <AxesChoice id={id} axes={graph.axes} />
      <Box flex="1" />
      {summary && summary.points > 0 ? (
        <Text
          fontSize="13px"
          color="ink.muted"
          order="1"
          flexBasis="100%"
          paddingBottom="1"
          title="Standard errors by the marks alone, which neighbouring points share"
          data-summary
        >
          {told.map(([what, value, of], i) => (
            <Fragment key={what}>
              {i > 0 && ' · '}
              <Box as="span" whiteSpace="nowrap">
                {what} {measurement(value.value, value.error, of)}
              </Box>
            </Fragment>
          ))}
        </Text>
      ) : (
        <Text fontSize="13px" color="ink.muted" truncate {...BELOW}>
          drag along the graph to choose a stretch
        </Text>
      )}
      {column.rows.length > 1 && (
        <FitMenu
          label={stretch ? 'Fit…' : 'Fit all…'}
          order={quantity.order}
          onChoose={(model) => {
            const all = { from: table.frames[column.rows[0]], to: table.frames[column.rows.at(-1)!] }
            const fitted = stretch ?? uuid()
            session.edit('fit a stretch', (draft) => {
              if (!stretch) edits.addStretch(fitted, id, all.from, all.to)(draft)
              edits.addFit(uuid(), fitted, model)(draft)
            })
            workbench.select({ kind: 'stretch', id: fitted })
          }}
        />
      )}
      <IconButton
        size="2xs"
        variant={graph.errorBars ? 'subtle' : 'ghost'}
        aria-pressed={graph.errorBars}
        aria-label={`Error bars of ${quantity.name}`}
        title="Error bars: one standard error; thin beyond it, what smoothing can be off by"
        fontSize="16px"
        onClick={() =>
          session.edit(
            graph.errorBars ? 'hide error bars' : 'show error bars',
            edits.setErrorBars(id, !graph.errorBars),
          )
        }
      >
        ±
      </IconButton>
      <CloseButton
        size="2xs"
        aria-label={`Hide ${quantity.name}`}
        title="Hide this graph"
        onClick={() => session.edit(`hide ${quantity.name.toLowerCase()}`, edits.removeGraph(id))}
      />
    </Flex>
  )
}
