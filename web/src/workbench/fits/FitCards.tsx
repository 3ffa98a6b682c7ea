import { analyse, type GraphFit } from '@apokinema/core/analysis'
import { edits, type Stretch, TIME } from '@apokinema/core/investigation'
import type { MotionTable } from '@apokinema/core/motion'
import { Box, Button, CloseButton, Flex, HStack, Stack, Text } from '@chakra-ui/react'
import { memo, useEffect, useRef } from 'react'
import { Fold } from '../../common/Fold.tsx'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/palettes.ts'
import { seeTimes } from '../chart/timeView.ts'
import { Marker } from '../Marker.tsx'
import { SymbolText } from '../SymbolText.tsx'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { FitCard } from './FitCard.tsx'
import { FitMenu } from './FitMenu.tsx'
import { StretchMore } from './StretchMore.tsx'
import { SuggestWindow } from './SuggestWindow.tsx'
import { useFitting } from './useFitting.ts'

/** All stretches with their fits, in the order of their numbers. */
export const FitCards = memo(function FitCards() {
  const investigation = useInvestigation()
  const analysis = analyse(investigation)
  const stretches = Object.entries(investigation.stretches).sort(([, a], [, b]) => a.number - b.number)
  if (stretches.length === 0)
    return (
      <Stack padding="4" gap="2" color="ink.muted">
        <Text fontWeight="600" color="ink">
          No stretch yet
        </Text>
        <Text>
          Drag along a graph over the points in which the motion is clean. Then fit it here, and read the
          physics off the fit.
        </Text>
      </Stack>
    )
  const fits = analysis.allFits()
  return (
    <>
      {stretches.map(([id, stretch]) => {
        const graph = investigation.graphs[stretch.graph]
        return graph ? (
          <StretchCard
            key={id}
            id={id}
            stretch={stretch}
            table={analysis.shownTable(graph.body, graph)}
            fits={fits.filter(({ settings }) => settings.stretch === id)}
          />
        ) : null
      })}
      <SuggestWindow tableOf={(graph) => analysis.shownTable(graph.body, graph)} />
    </>
  )
})

function StretchCard({
  id,
  stretch,
  table,
  fits,
}: {
  id: string
  stretch: Stretch
  table: MotionTable
  fits: GraphFit[]
}) {
  const investigation = useInvestigation()
  const selection = useWorkbench((state) => state.selection)
  const card = useRef<HTMLDivElement>(null)
  const graph = investigation.graphs[stretch.graph]
  const quantity = analyse(investigation).quantity(graph.quantity)
  const fitTo = useFitting(stretch.graph, graph)
  const chosen = selection?.kind === 'stretch' && selection.id === id
  useEffect(() => {
    if (chosen) card.current?.scrollIntoView({ block: 'nearest' })
  }, [chosen])

  return (
    <Box
      ref={card}
      as="section"
      paddingX="4"
      paddingY="3"
      borderBottom="1px solid"
      borderColor="line"
      borderLeft="3px solid"
      borderLeftColor={chosen ? 'petrol' : 'transparent'}
      data-stretch={stretch.number}
      data-chosen={chosen || undefined}
      onClick={() => workbench.select({ kind: 'stretch', id })}
    >
      <StretchHead id={id} stretch={stretch} />
      <StretchFrames id={id} stretch={stretch} table={table} />
      <LeftOut id={id} stretch={stretch} body={graph.body} />
      <Fold name="points" label="More about these points">
        <StretchMore stretch={stretch} table={table} quantity={graph.quantity} />
      </Fold>
      {fits.map((shown) => (
        <FitCard key={shown.id} shown={shown} graph={graph} />
      ))}
      {quantity && (
        <HStack marginTop="2">
          <FitMenu
            label={fits.length === 0 ? 'Fit…' : 'Another fit…'}
            look={fits.length > 0 ? 'plain' : 'next'}
            quantity={quantity}
            xQuantity={graph.xQuantity === TIME ? null : analyse(investigation).quantity(graph.xQuantity)}
            onChoose={(choice) => fitTo(choice, id, () => stretch)}
          />
          {fits.length === 0 && (
            <Text fontSize="small" color="ink.muted">
              a model to these points
            </Text>
          )}
        </HStack>
      )}
    </Box>
  )
}

/** Number, body and quantity of a stretch. */
function StretchHead({ id, stretch }: { id: string; stretch: Stretch }) {
  const session = useSession()
  const investigation = useInvestigation()
  const graph = investigation.graphs[stretch.graph]
  const quantity = analyse(investigation).quantity(graph.quantity)
  const body = investigation.bodies[graph.body]
  return (
    <Flex align="center" gap="2">
      <Text
        as="span"
        bg="petrol"
        color="white"
        fontFamily="mono"
        fontWeight="600"
        fontSize="small"
        paddingX="1.5"
        borderRadius="3px"
      >
        {stretch.number}
      </Text>
      <Marker shape={body.shape} colour={BODY_PAINT[body.colour]} />
      <Text flex="1" truncate title={body.name}>
        {body.name}
        {quantity && (
          <>
            , <SymbolText symbol={quantity.symbol} subscript={quantity.subscript} />
          </>
        )}
      </Text>
      <CloseButton
        size="2xs"
        aria-label={`Delete stretch ${stretch.number}`}
        title="Delete this stretch"
        onClick={() => session.edit('delete the stretch', edits.removeStretch(id))}
      />
    </Flex>
  )
}

/** The first and last frame of a stretch as fields, and a button that zooms all graphs to it. */
function StretchFrames({ id, stretch, table }: { id: string; stretch: Stretch; table: MotionTable }) {
  return (
    <HStack gap="2" marginTop="1">
      <Text fontSize="small" color="ink.muted">
        frames
      </Text>
      <StretchEnd id={id} stretch={stretch} end="from" />
      <Text color="ink.muted">–</Text>
      <StretchEnd id={id} stretch={stretch} end="to" />
      <Box flex="1" />
      <Button
        size="2xs"
        variant="plain"
        paddingX="1"
        color="petrol"
        title="See only these times in all graphs"
        onClick={() => showTimes(table, stretch)}
      >
        Zoom to it
      </Button>
    </HStack>
  )
}

/** Zooms all graphs to the times of a stretch. */
function showTimes({ frames, times }: MotionTable, { from, to }: Stretch): void {
  const inside = frames.flatMap((frame, row) => (frame >= from && frame <= to ? [times[row]] : []))
  if (inside.length > 1) seeTimes({ from: inside[0], to: inside[inside.length - 1] })
}

/** The points that are left out, and a switch for the selected one. */
function LeftOut({ id, stretch, body }: { id: string; stretch: Stretch; body: string }) {
  const session = useSession()
  const selection = useWorkbench((state) => state.selection)
  const frames = Object.keys(stretch.without).map(Number)
  const at = selection?.kind === 'mark' && selection.body === body ? selection.frame : null
  const isInside = at !== null && at >= stretch.from && at <= stretch.to
  const isOut = at !== null && stretch.without[at]
  if (frames.length === 0 && !isInside) return null
  const leave = (some: number[], out: boolean) =>
    session.edit(out ? `leave out frame ${some[0]}` : 'take points back', edits.leaveOut(id, some, out))
  return (
    <HStack
      gap="2"
      fontSize="small"
      color="ink.muted"
      flexWrap="wrap"
      data-left-out
      // The point stays selected, so that it can be restored at once.
      onClick={(event) => event.stopPropagation()}
    >
      {frames.length > 0 && (
        <Text data-left-out-frames={frames.join(' ')}>Left out: {frames.join(', ')}</Text>
      )}
      {isInside && (
        <Button size="2xs" variant="outline" onClick={() => leave([at], !isOut)}>
          {isOut ? `Take frame ${at} back` : `Leave out frame ${at}`}
        </Button>
      )}
      {frames.length > 1 && (
        <Button size="2xs" variant="outline" onClick={() => leave(frames, false)}>
          Take all back
        </Button>
      )}
    </HStack>
  )
}

/** Field for one end of a stretch, as a frame number. */
function StretchEnd({ id, stretch, end }: { id: string; stretch: Stretch; end: 'from' | 'to' }) {
  const session = useSession()
  return (
    <Box width="2.7rem" flex="none">
      <TextField
        label={
          end === 'from'
            ? `First frame of stretch ${stretch.number}`
            : `Last frame of stretch ${stretch.number}`
        }
        hideLabel
        size="2xs"
        paddingX="1"
        textAlign="center"
        value={String(stretch[end])}
        inputMode="numeric"
        onCommit={(text) => {
          const value = parseNumber(text)
          if (value === null || !Number.isInteger(value) || value < 0) return 'A frame.'
          const changed = { ...stretch, [end]: value }
          session.edit('change the stretch', edits.changeStretch(id, changed.from, changed.to))
          return null
        }}
      />
    </Box>
  )
}
