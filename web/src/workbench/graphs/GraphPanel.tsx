import type { GraphDescription, Limits } from '@apokinema/core/graphs'
import type { Graph } from '@apokinema/core/investigation'
import { seriesText } from '@apokinema/words/columns'
import { Flex, Text } from '@chakra-ui/react'
import { memo, type ReactNode, useMemo, useState } from 'react'
import { useShallow } from 'zustand/react/shallow'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useWorkbench } from '../workbenchStore.ts'
import { GraphHeader } from './GraphHeader.tsx'
import { GraphPlot } from './GraphPlot.tsx'

/** A graph: its head above its plot. */
export const GraphPanel = memo(function GraphPanel({
  id,
  graph,
  description,
  all,
  handle,
}: {
  id: string
  graph: Graph
  description: GraphDescription
  /** Visible times by default. */
  all: Limits
  /** Handle by which the graph is dragged to another place. */
  handle: ReactNode
}) {
  const own = useInvestigation(
    useShallow(({ stretches }) =>
      Object.fromEntries(Object.entries(stretches).filter(([, { graph: on }]) => on === id)),
    ),
  )
  const selection = useWorkbench((state) => state.selection)
  /** Frames of the stretch being drawn. */
  const [drawnRange, setDrawnRange] = useState<{ from: number; to: number } | null>(null)
  const stretches = useMemo(() => Object.entries(own).sort(([, a], [, b]) => a.number - b.number), [own])
  const [main] = description.series
  const chosen =
    stretches.find(([key]) => selection?.kind === 'stretch' && selection.id === key) ?? stretches.at(-1)
  if (!main) return null
  return (
    <Flex direction="column" height="100%" bg="panel" data-graph={graph.quantity}>
      <GraphHeader
        id={id}
        graph={graph}
        description={description}
        stretch={chosen?.[0] ?? null}
        range={drawnRange ?? chosen?.[1] ?? null}
        handle={handle}
      />
      <GraphPlot
        id={id}
        graph={graph}
        description={description}
        all={all}
        stretches={stretches}
        chosen={chosen?.[0] ?? null}
        drawnRange={drawnRange}
        setDrawnRange={setDrawnRange}
      />
      {main.note && (
        <Text paddingX="4" paddingBottom="3" fontSize="small" color="ink.muted">
          {seriesText(main.note)}
        </Text>
      )}
    </Flex>
  )
})
