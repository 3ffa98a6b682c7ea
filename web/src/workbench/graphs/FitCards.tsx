import { type ColumnFit, slowMotionHint } from '@apokinema/core/fitting'
import { quantityInfo } from '@apokinema/core/graphs'
import { edits, type Graph, type ModelId, type Stretch } from '@apokinema/core/investigation'
import { alongLine, type MotionTable } from '@apokinema/core/motion'
import { fixed, measurement, significant, withUnit } from '@apokinema/core/units'
import { Box, Button, CloseButton, Flex, Grid, HStack, Stack, Text } from '@chakra-ui/react'
import { useEffect, useRef } from 'react'
import { v4 as uuid } from 'uuid'
import { Fold } from '../../common/Fold.tsx'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/system.ts'
import { Marker } from '../Marker.tsx'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { FitMenu } from './FitMenu.tsx'
import { fittedOn, type ShownFit } from './fits.ts'
import { ReadingBox, SCHOOL_G } from './ReadingBox.tsx'
import { StretchMore } from './StretchMore.tsx'
import { SymbolText } from './SymbolText.tsx'
import { seeTimes } from './timeView.ts'

/** Every stretch with its fits, in the order of their numbers. */
export function FitCards({ tableOf }: { tableOf: (graph: Graph) => MotionTable }) {
  const investigation = useInvestigation()
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
  return (
    <>
      {stretches.map(([id, stretch]) => {
        const graph = investigation.graphs[stretch.graph]
        return graph ? <StretchCard key={id} id={id} stretch={stretch} table={tableOf(graph)} /> : null
      })}
    </>
  )
}

function StretchCard({ id, stretch, table }: { id: string; stretch: Stretch; table: MotionTable }) {
  const session = useSession()
  const investigation = useInvestigation()
  const selection = useWorkbench((state) => state.selection)
  const card = useRef<HTMLDivElement>(null)
  const graph = investigation.graphs[stretch.graph]
  const quantity = quantityInfo(investigation, graph.quantity)
  const line = alongLine(graph.quantity)
  const body = investigation.bodies[graph.body]
  const fits = fittedOn(investigation, stretch.graph, table).filter(({ settings }) => settings.stretch === id)
  const chosen = selection?.kind === 'stretch' && selection.id === id
  useEffect(() => {
    if (chosen) card.current?.scrollIntoView({ block: 'nearest' })
  }, [chosen])
  const add = (model: ModelId) => session.edit('fit the stretch', edits.addFit(uuid(), id, model))

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
      onClick={() => workbench.select({ kind: 'stretch', id })}
    >
      <Flex align="center" gap="2">
        <Text
          as="span"
          bg="petrol"
          color="white"
          fontFamily="mono"
          fontWeight="600"
          fontSize="13px"
          paddingX="1.5"
          borderRadius="3px"
        >
          {stretch.number}
        </Text>
        <Marker shape={body.shape} colour={BODY_PAINT[body.colour].mark} />
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
      <HStack gap="2" marginTop="1">
        <Text fontSize="13px" color="ink.muted">
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
      <LeftOut id={id} stretch={stretch} body={graph.body} />
      <Fold label="More about these points">
        <StretchMore stretch={stretch} table={table} quantity={graph.quantity} />
      </Fold>
      {fits.map((shown) => (
        <FitCard key={shown.id} shown={shown} />
      ))}
      {fits.length === 0 && line && (
        <HStack marginTop="2">
          <FitMenu label="Fit…" onChoose={add} order={line.order} />
          <Text fontSize="13px" color="ink.muted">
            a model to these points
          </Text>
        </HStack>
      )}
    </Box>
  )
}

/** Makes all graphs show the times of a stretch. */
function showTimes({ frames, times }: MotionTable, { from, to }: Stretch): void {
  const inside = frames.flatMap((frame, row) => (frame >= from && frame <= to ? [times[row]] : []))
  if (inside.length > 1) seeTimes({ from: inside[0], to: inside[inside.length - 1] })
}

/** Points that are left out, and whether the one that is selected is. */
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
      fontSize="13px"
      color="ink.muted"
      flexWrap="wrap"
      data-left-out
      // The point stays selected, so that it can be taken back at once.
      onClick={(event) => event.stopPropagation()}
    >
      {frames.length > 0 && <Text>Left out: {frames.join(', ')}</Text>}
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

/** One end of a stretch as a frame number, to read and to type. */
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

/** One fit: formula, parameters, how well it fits, and what it says. */
function FitCard({ shown }: { shown: ShownFit }) {
  const session = useSession()
  const { id, settings, fit, trouble } = shown
  const remove = (
    <CloseButton
      size="2xs"
      aria-label="Delete this fit"
      title="Delete this fit"
      onClick={() => session.edit('delete the fit', edits.removeFit(id))}
    />
  )
  if (!fit)
    return (
      <Flex marginTop="2" gap="2" role="alert">
        <Text flex="1" color="alarm">
          {trouble}
        </Text>
        {remove}
      </Flex>
    )
  const { quantity, polynomial, terms } = fit
  const other = settings.form === 'physics' ? 'coefficients' : 'physics'
  return (
    <Box marginTop="2" data-fit>
      <Flex align="center">
        <Text fontWeight="600" flex="1">
          {fit.model.name}
        </Text>
        <Text fontSize="13px" color="ink.muted" marginRight="1">
          {polynomial.points} points
        </Text>
        {remove}
      </Flex>
      <Text marginY="1">
        <SymbolText symbol={quantity.symbol} subscript={quantity.subscript} />
        {' = '}
        {terms.map((term, i) => (
          <span key={term.power}>
            {i > 0 && ' + '}
            {term.half && '½ '}
            <SymbolText symbol={term.symbol} subscript={term.subscript} />
            {term.power > 0 && (
              <>
                {' '}
                <i>t</i>
                {term.power > 1 && <sup style={{ fontSize: '0.7em' }}>{term.power}</sup>}
              </>
            )}
          </span>
        ))}
      </Text>
      <Grid templateColumns="auto 1fr" columnGap="4" fontSize="13px">
        {fit.parameters.map((parameter) => (
          <Box display="contents" key={parameter.symbol + parameter.subscript}>
            <Box title={parameter.name}>
              <SymbolText symbol={parameter.symbol} subscript={parameter.subscript} />
            </Box>
            <Text fontFamily="mono">{measurement(parameter.value, parameter.error, parameter.unit)}</Text>
          </Box>
        ))}
        <Text color="ink.muted">RMSE</Text>
        <Text fontFamily="mono" color="ink.muted">
          {withUnit(significant(polynomial.rmse, 2), fit.unit)}, R² {fixed(polynomial.rSquared, 5)}
        </Text>
      </Grid>
      <ReadingBox fit={fit} settings={settings} id={id} />
      {fit.breaks > 0 && (
        <Text fontSize="13px" borderLeft="3px solid" borderColor="#8A5A00" paddingLeft="3" marginTop="2">
          The motion breaks within this stretch: no single motion goes through all of it. End the stretch
          before the break, and fit the other side by itself.
        </Text>
      )}
      <SlowMotion fit={fit} />
      <Button
        size="2xs"
        variant="plain"
        paddingX="0"
        color="petrol"
        onClick={() => session.edit('change the form of the fit', edits.changeFit(id, { form: other }))}
      >
        {other === 'coefficients' ? 'Show plain coefficients' : 'Show the physics’ parameters'}
      </Button>
    </Box>
  )
}

/** Where an acceleration looks like g slowed down: what that would mean, and one click for it. */
function SlowMotion({ fit }: { fit: ColumnFit }) {
  const session = useSession()
  const investigation = useInvestigation()
  const hint = slowMotionHint(investigation, fit)
  if (!hint) return null
  const { factor, captureRate } = hint
  return (
    <Box borderLeft="3px solid" borderColor="#8A5A00" paddingLeft="3" marginTop="2" data-hint="slow-motion">
      <Text fontSize="13px">
        This is near {fixed(SCHOOL_G, 2)} m/s² divided by {significant(factor, 3)}². Is the clip slow motion,
        captured at {captureRate} frames a second?
      </Text>
      <Button
        size="2xs"
        variant="outline"
        marginTop="1"
        onClick={() =>
          session.edit(
            'state the capture rate',
            edits.setCaptureRate(uuid(), { from: null, to: null, rate: captureRate, known: null }),
          )
        }
      >
        Captured at {captureRate} /s
      </Button>
    </Box>
  )
}
