import { analyse } from '@apokinema/core/analysis'
import { type Limits, lowered } from '@apokinema/core/graphs'
import { edits, type Graph } from '@apokinema/core/investigation'
import { Box, Flex } from '@chakra-ui/react'
import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable'
import { GripVertical } from 'lucide-react'
import { memo, type PointerEvent, useMemo, useRef } from 'react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { GraphPanel } from './GraphPanel.tsx'

/** Least height of a graph with a share of 1, in pixels. */
const LEAST = 200

/** Graphs one below the other, which can be reordered and resized by dragging. */
export const GraphStack = memo(function GraphStack({
  graphs,
  range: all,
}: {
  graphs: readonly (readonly [string, Graph])[]
  range: Limits
}) {
  const session = useSession()
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const ids = graphs.map(([id]) => id)
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return
    const [from, to] = [ids.indexOf(String(active.id)), ids.indexOf(String(over.id))]
    session.edit('move a graph', edits.moveGraph(ids[from], ids[from < to ? to + 1 : to] ?? null))
  }
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {graphs.map(([id, graph], i) => (
          <Place key={id} id={id} graph={graph} next={graphs[i + 1] ?? null} all={all} />
        ))}
      </SortableContext>
    </DndContext>
  )
})

/** A graph in the stack; nothing if its quantity is gone. */
function Place({
  id,
  graph,
  next,
  all,
}: {
  id: string
  graph: Graph
  next: readonly [string, Graph] | null
  all: Limits
}) {
  const investigation = useInvestigation()
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, isDragging } = useSortable({
    id,
  })
  const box = useRef<HTMLDivElement | null>(null)
  const description = analyse(investigation).graph(graph)
  const title = description?.title
  // The head is not rendered for every move on the plot.
  const handle = useMemo(
    () =>
      title === undefined ? null : (
        <Box
          as="button"
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          aria-label={`Move ${lowered(title)} to another place`}
          title="Drag it to another place"
          color="ink.muted"
          cursor="grab"
          touchAction="none"
          flex="none"
        >
          <GripVertical size={14} />
        </Box>
      ),
    [title, attributes, listeners, setActivatorNodeRef],
  )
  if (!description) return null
  return (
    <Flex
      ref={(element) => {
        box.current = element
        setNodeRef(element)
      }}
      direction="column"
      position="relative"
      flex={`${graph.height} 0 0`}
      minHeight={`${LEAST * graph.height}px`}
      borderBottom="1px solid"
      borderColor="line"
      opacity={isDragging ? 0.8 : 1}
      zIndex={isDragging ? 2 : undefined}
      style={{ transform: transform ? `translateY(${transform.y}px)` : undefined }}
    >
      <Box flex="1" minHeight="0">
        <GraphPanel id={id} graph={graph} description={description} all={all} handle={handle} />
      </Box>
      <HeightEdge id={id} graph={graph} next={next} box={box} />
    </Flex>
  )
}

/** The lower edge of a graph: a drag moves height between it and the next one. */
function HeightEdge({
  id,
  graph,
  next,
  box,
}: {
  id: string
  graph: Graph
  next: readonly [string, Graph] | null
  box: { current: HTMLDivElement | null }
}) {
  const session = useSession()
  /** Position and heights when the drag began. */
  const held = useRef<{ y: number; own: number; next: number; pixels: number } | null>(null)
  const changed = (event: PointerEvent) => {
    const { y, own, next: below, pixels } = held.current!
    const by = ((event.clientY - y) * own) / pixels
    return edits.resizeGraphs({ [id]: own + by, ...(next && { [next[0]]: below - by }) })
  }
  return (
    <Box
      position="absolute"
      left="0"
      right="0"
      bottom="-4px"
      height="8px"
      zIndex="1"
      cursor="row-resize"
      touchAction="none"
      data-height-edge
      onPointerDown={(event) => {
        if (!box.current) return
        event.currentTarget.setPointerCapture(event.pointerId)
        held.current = {
          y: event.clientY,
          pixels: box.current.offsetHeight,
          own: graph.height,
          next: next?.[1].height ?? 0,
        }
      }}
      onPointerMove={(event) => {
        if (held.current) session.preview(changed(event))
      }}
      onPointerUp={(event) => {
        if (!held.current) return
        session.edit('change a graph’s height', changed(event))
        held.current = null
      }}
      onPointerCancel={() => {
        held.current = null
        session.preview(null)
      }}
    />
  )
}
