import { type GraphDescription, lowered } from '@apokinema/core/graphs'
import { edits, type Graph, inOrder, MARK_STYLES, type MarkStyle } from '@apokinema/core/investigation'
import { Button, CloseButton, Flex, HStack, IconButton, Stack, Text } from '@chakra-ui/react'
import { ArrowDown, ArrowUp, SlidersHorizontal } from 'lucide-react'
import { memo, useState } from 'react'
import { v4 as uuid } from 'uuid'
import { Pop } from '../../common/Pop.tsx'
import { Select } from '../../common/Select.tsx'
import { TextField } from '../../common/TextField.tsx'
import { TickBox } from '../../common/TickBox.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/palettes.ts'
import { firstLine } from '../chart/graphTangents.ts'
import { Marker } from '../Marker.tsx'
import { SymbolText } from '../SymbolText.tsx'
import { useWorkbench } from '../workbenchStore.ts'
import { Overlays } from './Overlays.tsx'
import { QuantitySelect } from './QuantitySelect.tsx'

const LOOKS: Record<MarkStyle, string> = {
  points: 'points',
  both: 'points and line',
  line: 'line',
}

/** Menu of a graph's style, its further series, and its place among the others. */
export const MarkStyleMenu = memo(function MarkStyleMenu({
  id,
  graph,
  description,
}: {
  id: string
  graph: Graph
  description: GraphDescription
}) {
  const session = useSession()
  const change = (label: string, to: GraphChange) => session.edit(label, edits.changeGraph(id, to))
  const isEqualPossible =
    !description.isTime && description.x.unit === description.y.unit && description.y.unit !== ''
  return (
    <Pop
      placement="bottom-end"
      width="19rem"
      button={
        <IconButton
          size="2xs"
          variant="ghost"
          aria-label={`How ${lowered(description.title)} is drawn`}
          title="How it is drawn"
        >
          <SlidersHorizontal size={14} />
        </IconButton>
      }
    >
      <TextField
        label="Title"
        placeholder={description.title}
        value={graph.title}
        maxLength={120}
        onCommit={(title) => {
          change('name a graph', { title })
          return null
        }}
      />
      <Select
        label="Points or a line"
        value={graph.markStyle}
        options={MARK_STYLES.map((look) => [look, LOOKS[look]] as const)}
        choose={(look) => change('draw a graph in another way', { markStyle: look })}
      />
      <HStack gap="4">
        <TickBox on={graph.grid} set={(grid) => change('draw a grid or none', { grid })}>
          grid
        </TickBox>
        {isEqualPossible && (
          <TickBox on={graph.equal} set={(equal) => change('scale both axes alike', { equal })}>
            equal scales
          </TickBox>
        )}
      </HStack>
      {description.isTime && <TangentBoxes graph={graph} description={description} change={change} />}
      <Others id={id} graph={graph} description={description} />
      {description.isTime && <Overlays id={id} graph={graph} description={description} />}
      <NoteField id={id} graph={graph} />
      <Button
        {...SMALL}
        alignSelf="flex-start"
        onClick={() => session.edit('show a graph twice', edits.copyGraph(uuid(), id))}
      >
        Show it once more
      </Button>
      <PlaceButtons id={id} graph={graph} />
    </Pop>
  )
})

type GraphChange = Parameters<typeof edits.changeGraph>[1]

/** The tangent at the current frame, and a line that is laid by hand. */
function TangentBoxes({
  graph,
  description,
  change,
}: {
  graph: Graph
  description: GraphDescription
  change(label: string, to: GraphChange): void
}) {
  return (
    <HStack gap="4">
      <TickBox
        on={graph.tangent}
        set={(tangent) => change(tangent ? 'draw the tangent' : 'draw no tangent', { tangent })}
      >
        tangent
      </TickBox>
      <TickBox
        on={graph.handTangent !== null}
        set={(on) =>
          change(on ? 'lay a line by hand' : 'take the line away', {
            handTangent: on ? firstLine(description) : null,
          })
        }
      >
        a line by hand
      </TickBox>
    </HStack>
  )
}

/** Moves a graph among those of its body, and changes its height. */
function PlaceButtons({ id, graph }: { id: string; graph: Graph }) {
  const session = useSession()
  const graphs = useInvestigation((now) => now.graphs)
  const among = inOrder(graphs)
    .filter(([, { body }]) => body === graph.body)
    .map(([other]) => other)
  const at = among.indexOf(id)
  return (
    <HStack gap="1">
      <Text fontSize="small" color="ink.muted" flex="1">
        Place and height
      </Text>
      <IconButton
        {...SMALL}
        aria-label="One place up"
        disabled={at <= 0}
        onClick={() => session.edit('move a graph', edits.moveGraph(id, among[at - 1]))}
      >
        <ArrowUp size={14} />
      </IconButton>
      <IconButton
        {...SMALL}
        aria-label="One place down"
        disabled={at === among.length - 1}
        onClick={() => session.edit('move a graph', edits.moveGraph(id, among[at + 2] ?? null))}
      >
        <ArrowDown size={14} />
      </IconButton>
      {([1.25, 0.8] as const).map((by) => (
        <Button
          key={by}
          {...SMALL}
          aria-label={by > 1 ? 'Higher' : 'Lower'}
          onClick={() =>
            session.edit('change a graph’s height', edits.resizeGraphs({ [id]: graph.height * by }))
          }
        >
          {by > 1 ? '+' : '−'}
        </Button>
      ))}
    </HStack>
  )
}

const SMALL = { size: '2xs', variant: 'outline' } as const

/** Further quantities and bodies on the same graph. */
function Others({ id, graph, description }: { id: string; graph: Graph; description: GraphDescription }) {
  const session = useSession()
  const { bodies } = useInvestigation()
  const [body, setBody] = useState(graph.body)
  const [main] = description.series
  const added = description.series.slice(1)
  const of = bodies[body] ? body : graph.body
  return (
    <Stack gap="1" borderTop="1px solid" borderColor="line" paddingTop="2">
      <Text fontSize="small" color="ink.muted">
        On the same graph
      </Text>
      {added.map(({ id: series, body: whose, quantity }) => (
        <Flex key={series} align="center" gap="2">
          <Marker shape={bodies[whose].shape} colour={BODY_PAINT[bodies[whose].colour]} />
          <Text flex="1" truncate fontSize="small">
            {bodies[whose].name}, <SymbolText symbol={quantity.symbol} subscript={quantity.subscript} />
          </Text>
          <CloseButton
            size="2xs"
            aria-label={`Take ${lowered(quantity.name)} of ${bodies[whose].name} away`}
            onClick={() => session.edit('take a quantity off the graph', edits.drawNoLonger(series!, id))}
          />
        </Flex>
      ))}
      <HStack gap="1">
        {Object.keys(bodies).length > 1 && (
          <Select
            label="Body to be added"
            width="7rem"
            flex="none"
            value={of}
            options={inOrder(bodies).map(([one, { name }]) => [one, name] as const)}
            choose={setBody}
          />
        )}
        <AddSelect id={id} body={of} like={main.quantity} />
      </HStack>
    </Stack>
  )
}

/** Adds a quantity to the same graph as soon as it is chosen. */
function AddSelect({
  id,
  body,
  like,
}: {
  id: string
  body: string
  like: GraphDescription['series'][number]['quantity']
}) {
  const session = useSession()
  const { bodies } = useInvestigation()
  const [chosen, setChosen] = useState(like.id)
  return (
    <>
      <QuantitySelect
        label="Quantity to be added"
        body={bodies[body]}
        value={chosen}
        like={like}
        choose={setChosen}
      />
      <Button
        {...SMALL}
        flex="none"
        onClick={() => session.edit('draw another quantity', edits.drawAlso(uuid(), id, body, chosen))}
      >
        Add
      </Button>
    </>
  )
}

/** Field for the note at the selected point. */
function NoteField({ id, graph }: { id: string; graph: Graph }) {
  const session = useSession()
  const selection = useWorkbench((state) => state.selection)
  const frame = selection?.kind === 'mark' && selection.body === graph.body ? selection.frame : null
  const [key, note] = Object.entries(graph.notes).find(([, one]) => one.frame === frame) ?? []
  return (
    <TextField
      label={frame === null ? 'Note: click a point of the graph first' : `Note at frame ${frame}`}
      disabled={frame === null}
      value={note?.text ?? ''}
      maxLength={200}
      onCommit={(text) => {
        if (frame === null) return null
        session.edit(
          text ? 'pin a note' : 'take a note away',
          edits.noteOnGraph(key ?? uuid(), id, frame, text),
        )
        return null
      }}
    />
  )
}
