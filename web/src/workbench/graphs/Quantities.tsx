import { lowered } from '@apokinema/core/graphs'
import { edits, type Graph, inOrder, TIME } from '@apokinema/core/investigation'
import type { QuantityInfo } from '@apokinema/core/motion'
import { type LengthUnit, unitOf } from '@apokinema/core/units'
import { derivationText } from '@apokinema/words/derivatives'
import { definitionText } from '@apokinema/words/quantities'
import { Box, Button, Flex, NativeSelect, Stack, Text } from '@chakra-ui/react'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { memo, useState } from 'react'
import { v4 as uuid } from 'uuid'
import { parseMeasured, parseNumber, TextField } from '../../common/TextField.tsx'
import { TickBox } from '../../common/TickBox.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/palettes.ts'
import { Marker } from '../Marker.tsx'
import { SymbolText } from '../SymbolText.tsx'
import { workbench } from '../workbenchStore.ts'
import { CustomQuantities } from './CustomQuantities.tsx'
import { DerivationChoice, hasWindow } from './DerivationChoice.tsx'
import { quantityGroups } from './QuantitySelect.tsx'

/** Groups whose first quantities are always listed. */
const ALWAYS = ['Position', 'Velocity', 'Acceleration', 'Your own']

/** Returns true if a graph shows a quantity of a body against time. */
const shows = (graph: Graph, body: string, quantity: string) =>
  graph.body === body && graph.quantity === quantity && graph.xQuantity === TIME

/** The quantities of a body; a click shows or hides its graph. */
export const Quantities = memo(function Quantities({ body, length }: { body: string; length: LengthUnit }) {
  const investigation = useInvestigation()
  const { bodies } = investigation
  const { colour, shape } = bodies[body]
  return (
    <Box paddingY="3">
      <Flex paddingX="4" align="center" gap="2" marginBottom="1">
        <Text color="ink.muted" fontSize="small" whiteSpace="nowrap">
          Quantities of
        </Text>
        <Box flex="1" />
        <Marker shape={shape} colour={BODY_PAINT[colour]} />
        <NativeSelect.Root size="xs" width="auto" maxWidth="11rem">
          <NativeSelect.Field
            aria-label="Body"
            fontWeight="600"
            value={body}
            onChange={(event) => workbench.setBody(event.target.value)}
          >
            {inOrder(bodies).map(([id, { name }]) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Flex>
      {quantityGroups(investigation, bodies[body]).map((group) => (
        <Group key={group.name} {...group} body={body} length={length} />
      ))}
      <CustomQuantities body={body} />
      <Derived />
      <References />
    </Box>
  )
})

/** A group of quantities: components at first, the others on request. */
function Group({
  name,
  quantities,
  body,
  length,
}: {
  name: string
  quantities: QuantityInfo[]
  body: string
  length: LengthUnit
}) {
  const [open, setOpen] = useState(false)
  const { graphs } = useInvestigation()
  const isShown = ({ id }: QuantityInfo) => Object.values(graphs).some((graph) => shows(graph, body, id))
  const isMain = (quantity: QuantityInfo) =>
    name === 'Your own' || (ALWAYS.includes(name) && quantity.direction !== 'size')
  const listed = quantities.filter((quantity) => open || isMain(quantity) || isShown(quantity))
  const more = quantities.length - quantities.filter((one) => isMain(one) || isShown(one)).length
  return (
    <Box>
      <Flex
        as={more > 0 ? 'button' : 'div'}
        aria-expanded={more > 0 ? open : undefined}
        width="100%"
        align="center"
        gap="1"
        paddingX="4"
        paddingTop="2"
        paddingBottom="0.5"
        textAlign="left"
        color="ink.muted"
        fontSize="small"
        onClick={() => setOpen(!open)}
      >
        <Text flex="1">{name}</Text>
        {more > 0 && (
          <>
            {open ? 'fewer' : `${more} more`}
            {open ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
          </>
        )}
      </Flex>
      {listed.map((quantity) => (
        <Row key={quantity.id} quantity={quantity} body={body} length={length} shown={isShown(quantity)} />
      ))}
    </Box>
  )
}

function Row({
  quantity,
  body,
  length,
  shown,
}: {
  quantity: QuantityInfo
  body: string
  length: LengthUnit
  shown: boolean
}) {
  const session = useSession()
  const { graphs } = useInvestigation()
  const { id, name, symbol, subscript, dimension, unit } = quantity
  const toggle = () => {
    const known = Object.entries(graphs).find(([, graph]) => shows(graph, body, id))
    if (known) session.edit(`hide ${lowered(name)}`, edits.removeGraph(known[0]))
    else session.edit(`show ${lowered(name)}`, edits.addGraph(uuid(), body, id))
  }
  return (
    <Flex
      as="button"
      aria-pressed={shown}
      title={definitionText(quantity)}
      width="100%"
      align="baseline"
      gap="3"
      paddingX="4"
      paddingY="0.5"
      textAlign="left"
      bg={shown ? 'petrol.tint' : undefined}
      _hover={{ bg: 'petrol.tint' }}
      onClick={toggle}
    >
      <Box width="1.9rem" flex="none">
        <SymbolText symbol={symbol} subscript={subscript} />
      </Box>
      <Text flex="1" truncate>
        {lowered(name)}
      </Text>
      <Text
        fontSize="small"
        whiteSpace="nowrap"
        color={shown ? 'petrol' : 'ink.muted'}
        fontWeight={shown ? '600' : '400'}
      >
        {shown ? 'shown' : (unit ?? unitOf(dimension, length))}
      </Text>
    </Flex>
  )
}

/** The method of derivation. */
function Derived() {
  const session = useSession()
  const { derivation } = useInvestigation()
  return (
    <Stack
      marginX="4"
      marginTop="3"
      gap="2"
      border="1px solid"
      borderColor="line"
      borderRadius="8px"
      padding="3"
    >
      <Text fontWeight="600">How they are derived</Text>
      <DerivationChoice
        label="How velocity and acceleration are derived"
        value={derivation}
        choose={(chosen) =>
          session.edit('derive velocity and acceleration in another way', edits.setDerivation(chosen))
        }
      />
      {hasWindow(derivation) && (
        <TickBox
          on={derivation.weighted}
          set={(weighted) =>
            session.edit('weigh the points of a derivative', edits.setDerivation({ weighted }))
          }
        >
          nearer points count more
        </TickBox>
      )}
      <Text fontSize="small" color="ink.muted">
        {derivationText(derivation)}
      </Text>
    </Stack>
  )
}

const inDegrees = (angle: number) => String(Number(((angle * 180) / Math.PI).toFixed(3)))

/** References of energies and displacements: g, and a direction. */
function References() {
  const session = useSession()
  const { freeFall, direction } = useInvestigation()
  const [open, setOpen] = useState(false)
  return (
    <Box marginX="4" marginTop="2">
      <Button size="2xs" variant="plain" paddingX="0" color="petrol" onClick={() => setOpen(!open)}>
        {open ? <ChevronDown size={14} /> : <ChevronRight size={14} />} g and direction of displacement
      </Button>
      {open && (
        <Flex gap="2">
          <TextField
            label="g here, m/s²"
            value={freeFall.error > 0 ? `${freeFall.value} ± ${freeFall.error}` : String(freeFall.value)}
            onCommit={(text) => {
              const measured = parseMeasured(text)
              if (!measured || !(measured.value > 0)) return 'A number such as 9.81 ± 0.01.'
              session.edit('state g', edits.setFreeFall(measured))
              return null
            }}
          />
          <TextField
            label="direction α, °"
            value={inDegrees(direction)}
            onCommit={(text) => {
              const value = parseNumber(text)
              if (value === null || Math.abs(value) > 360) return 'Degrees from +x towards +y.'
              session.edit('choose a direction', edits.setDirection((value * Math.PI) / 180))
              return null
            }}
          />
        </Flex>
      )}
    </Box>
  )
}
