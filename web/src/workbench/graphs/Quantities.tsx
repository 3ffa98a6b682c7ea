import { edits, inOrder } from '@apokinema/core/investigation'
import {
  DERIVATIVES,
  type LengthUnit,
  type Quantity,
  quantitiesOf,
  quantityUnit,
} from '@apokinema/core/motion'
import { Box, Flex, NativeSelect, Stack, Text } from '@chakra-ui/react'
import { v4 as uuid } from 'uuid'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/system.ts'
import { Marker } from '../Marker.tsx'
import { workbench } from '../workbenchStore.ts'
import { DerivationChoice } from './DerivationChoice.tsx'

/** A quantity's symbol as it is set: italic, with what stands below the line. */
export function SymbolText({ symbol, subscript }: { symbol: string; subscript: string }) {
  return (
    <Text as="span" fontStyle="italic" whiteSpace="nowrap">
      {symbol}
      {subscript && (
        <Text as="sub" fontSize="0.72em" fontStyle={/\d/.test(subscript) ? 'normal' : 'italic'}>
          {subscript}
        </Text>
      )}
    </Text>
  )
}

/** The quantities of a body; a click shows or hides its graph. */
export function Quantities({ body, length }: { body: string; length: LengthUnit }) {
  const session = useSession()
  const { bodies, graphs, derivation } = useInvestigation()
  const { colour, shape } = bodies[body]
  const toggle = ({ id, name }: Quantity) => {
    const shown = Object.entries(graphs).find(([, graph]) => graph.body === body && graph.quantity === id)
    if (shown) session.edit(`hide ${name.toLowerCase()}`, edits.removeGraph(shown[0]))
    else session.edit(`show ${name.toLowerCase()}`, edits.addGraph(uuid(), body, id))
  }
  return (
    <Box paddingY="3">
      <Flex paddingX="4" align="center" gap="2" marginBottom="1">
        <Text color="ink.muted" fontSize="13px" whiteSpace="nowrap">
          Quantities of
        </Text>
        <Box flex="1" />
        <Marker shape={shape} colour={BODY_PAINT[colour].mark} />
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
      {quantitiesOf(bodies[body]).map((quantity) => {
        const shown = Object.values(graphs).some(
          (graph) => graph.body === body && graph.quantity === quantity.id,
        )
        return (
          <Flex
            key={quantity.id}
            as="button"
            aria-pressed={shown}
            width="100%"
            align="baseline"
            gap="3"
            paddingX="4"
            paddingY="1"
            textAlign="left"
            bg={shown ? 'petrol.tint' : undefined}
            _hover={{ bg: 'petrol.tint' }}
            onClick={() => toggle(quantity)}
          >
            <Box width="1.6rem">
              <SymbolText symbol={quantity.symbol} subscript={quantity.subscript} />
            </Box>
            <Text flex="1">{quantity.name.toLowerCase()}</Text>
            <Text fontSize="13px" color={shown ? 'petrol' : 'ink.muted'} fontWeight={shown ? '600' : '400'}>
              {shown ? 'shown' : quantityUnit(length, quantity.order, quantity.component)}
            </Text>
          </Flex>
        )
      })}
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
        <Text fontSize="13px" color="ink.muted">
          {DERIVATIVES[derivation.method].explain(derivation)}
        </Text>
      </Stack>
    </Box>
  )
}
