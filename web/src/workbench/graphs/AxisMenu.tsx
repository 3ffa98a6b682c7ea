import { type AxisDescription, TRANSFORMS } from '@apokinema/core/graphs'
import { edits, type Graph, inOrder, type Scaling, TIME } from '@apokinema/core/investigation'
import { QUANTITIES } from '@apokinema/core/motion'
import { Button, HStack, Text, VisuallyHidden } from '@chakra-ui/react'
import { ChevronDown } from 'lucide-react'
import { memo, type ReactNode } from 'react'
import { LimitField } from '../../common/LimitField.tsx'
import { Pop } from '../../common/Pop.tsx'
import { Select } from '../../common/Select.tsx'
import { TextField } from '../../common/TextField.tsx'
import { TickBox } from '../../common/TickBox.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { AxisText } from '../SymbolText.tsx'
import { QuantitySelect } from './QuantitySelect.tsx'

const isOfPairs = (id: string) => {
  const quantity = QUANTITIES[id as keyof typeof QUANTITIES]
  return quantity?.kind === 'multiBody' && quantity.among === 'pair'
}

const WAYS = { x: 'horizontal', y: 'vertical' }

/** The symbol and unit of an axis, with a menu for its quantity and its scale. */
export const AxisMenu = memo(function AxisMenu({
  id,
  graph,
  axis,
  direction,
  children,
}: {
  id: string
  graph: Graph
  axis: AxisDescription
  direction: 'x' | 'y'
  /** Text before the symbol. */
  children?: ReactNode
}) {
  const session = useSession()
  const bodies = useInvestigation((now) => now.bodies)
  const key = direction === 'y' ? 'scaleY' : 'scaleX'
  const scaling = graph[key]
  const body = bodies[graph.body]
  const way = WAYS[direction]
  const scale = (label: string, change: Partial<Scaling>) =>
    session.edit(label, edits.scaleGraph(id, key, change))
  const choose = (quantity: string) =>
    session.edit(
      'show another quantity',
      edits.changeGraph(id, {
        ...(direction === 'y' ? { quantity } : { xQuantity: quantity }),
        [key]: { ...scaling, from: null, to: null, transform: 'none', log: false, label: '' },
        // Ignored if the units differ.
        equal: true,
      }),
    )
  const others = inOrder(bodies).filter(([other]) => other !== graph.body)
  return (
    <Pop
      placement={direction === 'y' ? 'bottom-start' : 'top-end'}
      width="17rem"
      button={
        <AxisButton axis={axis} direction={direction}>
          {children}
        </AxisButton>
      }
    >
      <Text fontWeight="600">The {way} axis</Text>
      <QuantitySelect
        label={`Quantity on the ${way} axis`}
        body={body}
        value={axis.quantity}
        withTime={direction === 'x'}
        choose={choose}
      />
      {direction === 'y' && isOfPairs(graph.quantity) && others.length > 1 && (
        <Select
          label="The other body"
          value={graph.other ?? others[0][0]}
          options={others.map(([other, { name }]) => [other, name] as const)}
          choose={(other) => session.edit('choose the other body', edits.changeGraph(id, { other }))}
        />
      )}
      <ScaleFields axis={axis} direction={direction} scaling={scaling} scale={scale} />
      <TextField
        label="Words at the axis"
        placeholder="symbol and unit"
        value={scaling.label}
        maxLength={120}
        onCommit={(label) => {
          scale('name an axis', { label })
          return null
        }}
      />
      {graph.xQuantity !== TIME && <SwapButton id={id} graph={graph} />}
    </Pop>
  )
})

/** The symbol and the unit at an axis, which open its menu. */
function AxisButton({
  axis,
  direction,
  children,
  ...button
}: {
  axis: AxisDescription
  direction: 'x' | 'y'
  children: ReactNode
}) {
  const way = WAYS[direction]
  return (
    <Button
      variant="plain"
      size="2xs"
      paddingX="0"
      minWidth="0"
      height="auto"
      gap="1"
      fontWeight="400"
      fontSize="small"
      color="ink.muted"
      whiteSpace="nowrap"
      title={`The ${way} axis: ${axis.name}`}
      data-axis={direction}
      {...button}
    >
      {children}
      <span>
        <AxisText axis={axis} />
      </span>
      <VisuallyHidden>, the {way} axis</VisuallyHidden>
      <ChevronDown size={12} />
    </Button>
  )
}

/** Transform, limits and kind of the scale of an axis; a time axis has limits of its own. */
function ScaleFields({
  axis,
  direction,
  scaling,
  scale,
}: {
  axis: AxisDescription
  direction: 'x' | 'y'
  scaling: Scaling
  scale(label: string, change: Partial<Scaling>): void
}) {
  const isTime = axis.quantity === TIME
  const limit = (end: 'from' | 'to') => (
    <LimitField
      label={end}
      value={axis[end]}
      set={(value) => {
        scale('scale an axis', { [end]: value === null ? null : value / axis.perKept })
        return null
      }}
    />
  )
  return (
    <>
      {!isTime && (
        <Select
          label={`Drawn on the ${WAYS[direction]} axis`}
          value={scaling.transform}
          options={Object.values(TRANSFORMS).map(({ id: transform, name }) => [transform, name] as const)}
          choose={(transform) => scale('draw it in another way', { transform, from: null, to: null })}
        />
      )}
      {!(isTime && direction === 'x') && (
        <HStack gap="2" align="flex-start">
          {limit('from')}
          {limit('to')}
        </HStack>
      )}
      {!isTime && (
        <HStack gap="4">
          <TickBox on={scaling.zero} set={(zero) => scale('scale an axis', { zero })}>
            with zero
          </TickBox>
          <TickBox on={scaling.log} set={(log) => scale('scale an axis', { log })}>
            logarithmic
          </TickBox>
        </HStack>
      )}
    </>
  )
}

function SwapButton({ id, graph }: { id: string; graph: Graph }) {
  const session = useSession()
  return (
    <Button
      size="2xs"
      variant="outline"
      alignSelf="flex-start"
      onClick={() =>
        session.edit(
          'swap the axes',
          edits.changeGraph(id, {
            quantity: graph.xQuantity,
            xQuantity: graph.quantity,
            scaleX: graph.scaleY,
            scaleY: graph.scaleX,
          }),
        )
      }
    >
      Swap the axes
    </Button>
  )
}
