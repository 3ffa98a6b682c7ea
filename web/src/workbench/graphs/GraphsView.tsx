import { analyse } from '@apokinema/core/analysis'
import { type Limits, mainDirection } from '@apokinema/core/graphs'
import { edits, type Graph, inOrder, TIME } from '@apokinema/core/investigation'
import { Box, Button, Flex, Stack, Text } from '@chakra-ui/react'
import { useEffect, useMemo } from 'react'
import { Link } from 'react-router'
import { Deferred, useInvestigation, useSession } from '../../document/SessionContext.tsx'
import type { Session } from '../../document/session.ts'
import { showHelp } from '../../help/helpStore.ts'
import { Calculations } from '../calculations/Calculations.tsx'
import { allTimes } from '../chart/graphModel.ts'
import { FitCards } from '../fits/FitCards.tsx'
import { ProposedFits } from '../proposals/ProposedFits.tsx'
import { ProposalSearch, useFoundProposals } from '../proposals/useBodyProposals.ts'
import { useProposedFits } from '../proposals/useProposedFits.ts'
import { SideColumn } from '../SideColumn.tsx'
import { activeBody } from '../shown.ts'
import { useKeys } from '../useKeys.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { DataBar } from './DataBar.tsx'
import { GraphStack } from './GraphStack.tsx'
import { MiniStage } from './MiniStage.tsx'
import { Quantities } from './Quantities.tsx'

const nothing = () => {}

/** Fewest marks that show along which axis the body moves more. */
const FEWEST_MARKS = 5

/**
 * Turns the initial graphs of a body to the axis that its motion asks for: that of the fit that is proposed first, or else the one along
 * which it moves more. Happens once, unless somebody has changed them.
 */
function useFirstGraphs(session: Session, body: string | null): void {
  const isKnown = useFoundProposals() !== null
  const [proposal] = useProposedFits()
  const asked = proposal?.proposed.quantity
  useEffect(() => {
    const investigation = session.document
    if (!body || !isKnown || Object.keys(investigation.bodies[body]?.marks ?? {}).length < FEWEST_MARKS)
      return
    const quantity = asked ?? mainDirection(analyse(investigation).shownTable(body))
    if (quantity === 'x') session.edit('show the axis along which it moves', edits.turnFirstGraphs(body))
  }, [session, body, isKnown, asked])
}

/**
 * Graphs stacked on the shared time axis, those against another quantity beside them, with the film and the quantities
 * on the left and the fits on the right.
 */
export default function GraphsView() {
  const session = useSession()
  const investigation = useInvestigation()
  const chosen = useWorkbench((state) => state.body)
  useKeys({ zoomBy: nothing, showHelp })
  const body = activeBody(investigation, chosen)
  useFirstGraphs(session, body)
  const graphs = useMemo(
    () => inOrder(investigation.graphs).filter(([, graph]) => graph.body === body),
    [investigation.graphs, body],
  )
  const tables = Object.keys(investigation.bodies).map((id) => analyse(investigation).shownTable(id))
  const points = tables.reduce((sum, table) => sum + table.frames.length, 0)
  const { from, to } = allTimes(investigation)
  const range = useMemo(() => ({ from, to }), [from, to])

  if (!body || points === 0) return <NothingMarked />
  return (
    <Flex direction="column" height="100%">
      <ProposalSearch />
      <Flex
        flex="1"
        minHeight="0"
        direction={{ base: 'column', lg: 'row' }}
        overflowY={{ base: 'auto', lg: 'hidden' }}
      >
        <FilmAndQuantities body={body} />
        <GraphColumns graphs={graphs} range={range} />
        <SideColumn
          label="Fits"
          side="right"
          width="19.875rem"
          isUsed={Object.keys(investigation.fits).length > 0}
          order={{ base: 2, lg: 0 }}
          bg="paper"
        >
          {/* What is dragged along a graph is drawn first, its cards a moment later. */}
          <Deferred>
            <ProposedFits />
            <FitCards />
            <Calculations />
          </Deferred>
        </SideColumn>
      </Flex>
      <Deferred>
        <DataBar body={body} />
      </Deferred>
    </Flex>
  )
}

function NothingMarked() {
  const session = useSession()
  return (
    <Flex height="100%" align="center" justify="center" padding="6">
      <Stack maxWidth="28rem" gap="3">
        <Text fontSize="lead" fontWeight="600">
          Nothing is marked yet
        </Text>
        <Text color="ink.muted">
          Graphs appear as soon as a body has marks. Under Measure, choose “What moves?”, then click the body
          in frame after frame.
        </Text>
        <Button asChild colorPalette="brand" alignSelf="flex-start">
          <Link to={`/investigations/${session.id}/measure`}>To Measure</Link>
        </Button>
      </Stack>
    </Flex>
  )
}

/** The left column; where all stand one below the other, the graphs come before the list of quantities. */
function FilmAndQuantities({ body }: { body: string }) {
  const investigation = useInvestigation()
  return (
    <SideColumn label="Film and quantities" side="left" width="17rem" isContents>
      <MiniStage />
      <Box order="3" bg="panel">
        <Deferred>
          <Quantities body={body} length={analyse(investigation).shownTable(body).length} />
        </Deferred>
      </Box>
    </SideColumn>
  )
}

/** Graphs against time, and those against another quantity beside them. */
function GraphColumns({ graphs, range }: { graphs: [string, Graph][]; range: Limits }) {
  const stacked = useMemo(() => graphs.filter(([, { xQuantity }]) => xQuantity === TIME), [graphs])
  const beside = useMemo(() => graphs.filter(([, { xQuantity }]) => xQuantity !== TIME), [graphs])
  return (
    <Flex
      as="main"
      order={{ base: 1, lg: 0 }}
      direction={{ base: 'column', xl: 'row' }}
      flex={{ base: 'none', lg: '1' }}
      minWidth="0"
      minHeight={{ base: '480px', lg: '0' }}
      overflowY={{ lg: 'auto' }}
    >
      {stacked.length > 0 && (
        <Flex flex="3 0 0" minWidth="0" direction="column">
          <GraphStack graphs={stacked} range={range} />
        </Flex>
      )}
      {beside.length > 0 && (
        <Flex
          flex="2 0 0"
          minWidth="0"
          direction="column"
          borderLeft={{ xl: '1px solid' }}
          borderColor={{ xl: 'line' }}
        >
          <GraphStack graphs={beside} range={range} />
        </Flex>
      )}
      {graphs.length === 0 && (
        <Text padding="6" color="ink.muted">
          No graph is shown. Choose a quantity on the left.
        </Text>
      )}
    </Flex>
  )
}
