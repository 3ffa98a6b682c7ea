import { referenceAngle, relativeScaleError, scaleOf } from '@apokinema/core/geometry'
import { type Body, edits, inOrder, type Reference } from '@apokinema/core/investigation'
import { clockOf } from '@apokinema/core/motion'
import { frameCount, inSpan, spanFrames } from '@apokinema/core/time'
import { degrees, fixed, parseLength, withUnit } from '@apokinema/core/units'
import { Box, Button, Flex, Grid, HStack, IconButton, Stack, Text } from '@chakra-ui/react'
import { Plus } from 'lucide-react'
import { useMemo, useState } from 'react'
import { MoreMenu } from '../../common/MoreMenu.tsx'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/system.ts'
import { activeBody, addBody, startMarking } from '../actions.ts'
import { Marker } from '../Marker.tsx'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { Question, SetUpRow } from './SetUpRow.tsx'

/** The questions that the work asks, in the order in which people meet them. It guides and never blocks. */
export function SetUp() {
  const { footage } = useInvestigation()
  if (!footage) return null
  return (
    <>
      <Question text="What was filmed?">
        <ClipRows />
      </Question>
      <Question text="When does it move?">
        <SpanRow />
      </Question>
      <Question text="How big is it?">
        <ReferenceRow />
      </Question>
      <Question text="Which way?">
        <AxesRow />
      </Question>
      <Bodies />
    </>
  )
}

function Facts({ rows }: { rows: [string, string][] }) {
  return (
    <Grid templateColumns="auto 1fr" columnGap="3" fontSize="13px">
      {rows.map(([name, value]) => (
        <Box display="contents" key={name}>
          <Text color="ink.muted">{name}</Text>
          <Text fontFamily="mono" textAlign="right" wordBreak="break-word">
            {value}
          </Text>
        </Box>
      ))}
    </Grid>
  )
}

function ClipRows() {
  const { footage, span } = useInvestigation()
  const clock = useMemo(() => clockOf(footage!, span.first), [footage, span.first])
  const { name, width, height, size } = footage!
  const milliseconds = (seconds: number) => withUnit(fixed(1000 * seconds, 3), 'ms')
  return (
    <>
      <SetUpRow state="done" label={name} value={`${width}×${height}`}>
        <Facts
          rows={[
            ['file', name],
            ['picture', `${width} × ${height} px`],
            ['size', withUnit(fixed(size / 1e6, 2), 'MB')],
          ]}
        />
      </SetUpRow>
      <SetUpRow
        state={clock.even ? 'done' : 'note'}
        label="Frame times"
        value={`${withUnit(fixed(clock.rate, 1), '/s')}, ${clock.even ? 'even' : 'uneven'}`}
      >
        <Facts
          rows={[
            ['frames', String(clock.seconds.length)],
            ['duration', withUnit(fixed(clock.seconds.at(-1)! - clock.seconds[0] + clock.median, 3), 's')],
            ['shortest frame', milliseconds(clock.shortest)],
            ['median frame', milliseconds(clock.median)],
            ['longest frame', milliseconds(clock.longest)],
          ]}
        />
        <Text fontSize="13px" color="ink.muted" marginTop="2">
          {clock.dequantised
            ? 'The file rounds its times to its tick; an even clock explains them, and is used.'
            : 'Every calculation uses these times as they are in the file.'}
        </Text>
      </SetUpRow>
    </>
  )
}

function SpanRow() {
  const session = useSession()
  const { span, footage } = useInvestigation()
  const frames = frameCount(footage!.ticks)
  const whole = span.first === 0 && span.last === frames - 1 && span.every === 1
  const field = (label: string, key: 'first' | 'last' | 'every', most: number) => (
    <TextField
      label={label}
      value={String(span[key])}
      inputMode="numeric"
      onCommit={(text) => {
        const value = parseNumber(text)
        const least = key === 'every' ? 1 : 0
        if (value === null || !Number.isInteger(value) || value < least || value > most)
          return `A whole number from ${least} to ${most}.`
        session.edit('change the span', edits.setSpan({ [key]: value }))
        return null
      }}
    />
  )
  const every = span.every === 1 ? 'every frame' : `every ${ordinal(span.every)}`
  return (
    <SetUpRow state={whole ? 'open' : 'done'} label={`Frames ${span.first} to ${span.last}`} value={every}>
      <Grid templateColumns="1fr 1fr 1fr" gap="2">
        {field('First', 'first', frames - 1)}
        {field('Last', 'last', frames - 1)}
        {field('Every n-th', 'every', frames)}
      </Grid>
      <HStack marginTop="2" gap="2">
        <Button
          size="2xs"
          variant="outline"
          onClick={() =>
            session.edit('change the span', edits.setSpan({ first: useWorkbench.getState().frame }))
          }
        >
          From here
        </Button>
        <Button
          size="2xs"
          variant="outline"
          onClick={() =>
            session.edit('change the span', edits.setSpan({ last: useWorkbench.getState().frame }))
          }
        >
          To here
        </Button>
      </HStack>
      <Text fontSize="13px" color="ink.muted" marginTop="2">
        {spanFrames(span).length} frames in use. Keep only those in which it moves freely; the two ends can be
        dragged on the strip.
      </Text>
    </SetUpRow>
  )
}

/** 2 → 2nd. */
export function ordinal(n: number): string {
  const teens = n % 100 > 10 && n % 100 < 14
  return `${n}${teens ? 'th' : (['th', 'st', 'nd', 'rd'][n % 10] ?? 'th')}`
}

function ReferenceRow() {
  const { references } = useInvestigation()
  const [first] = inOrder(references)
  if (first) return <ReferenceEditor id={first[0]} reference={first[1]} />
  return (
    <Box paddingX="4">
      <Text fontSize="13px" color="ink.muted" marginBottom="2">
        Everything is in pixels until something of known length is shown: as far from the camera as the motion
        is.
      </Text>
      <Button
        size="xs"
        variant="outline"
        onClick={() => workbench.enter({ kind: 'reference', id: null, first: null })}
      >
        Set a reference length
      </Button>
    </Box>
  )
}

function ReferenceEditor({ id, reference }: { id: string; reference: Reference }) {
  const session = useSession()
  const scale = scaleOf(reference)
  const { angle, error } = referenceAngle(reference)
  const change = (label: string, what: Partial<Omit<Reference, 'order'>>) =>
    session.edit(label, edits.changeReference(id, what))
  const percent = scale ? ` ±${fixed(100 * relativeScaleError(scale), 1)} %` : ''
  const written = reference.length === null ? '' : writtenLength(reference.length, reference.lengthError)
  return (
    <SetUpRow
      key={id}
      state={scale ? 'done' : 'open'}
      label={reference.name[0].toUpperCase() + reference.name.slice(1)}
      value={
        reference.length === null ? 'how long?' : `${withUnit(fixed(reference.length, 3), 'm')}${percent}`
      }
      defaultOpen={reference.length === null}
    >
      <Stack gap="2">
        <TextField
          label="How long is it really?"
          placeholder="1.40 m or 140 cm ± 0.5"
          value={written}
          autoFocus={reference.length === null}
          onCommit={(text) => {
            const length = parseLength(text)
            if (!length) return 'A length above 0 such as 1.40 m, 85 cm or 1.400 ± 0.005 m.'
            change('tell the reference length', { length: length.metres, lengthError: length.error })
            return null
          }}
        />
        <Grid templateColumns="1fr 1fr" gap="2">
          <TextField
            label="Name"
            value={reference.name}
            fontFamily="body"
            maxLength={120}
            onCommit={(text) => {
              if (!text) return 'A name, please.'
              change('rename the reference length', { name: text })
              return null
            }}
          />
          <TextField
            label="Ends placed to ± px"
            value={String(reference.placingError)}
            inputMode="decimal"
            onCommit={(text) => {
              const value = parseNumber(text)
              if (value === null || value < 0 || value > 1000) return 'From 0 to 1000.'
              change('state the placing error', { placingError: value })
              return null
            }}
          />
        </Grid>
        <Facts
          rows={[
            [
              'on the picture',
              withUnit(
                fixed(
                  Math.hypot(
                    reference.ends[1].x - reference.ends[0].x,
                    reference.ends[1].y - reference.ends[0].y,
                  ),
                  1,
                ),
                'px',
              ),
            ],
            ['its angle', `${degrees(angle, 2)} ± ${degrees(error, 2)}`],
            ...(scale
              ? ([['scale', withUnit(fixed(1 / scale.metresPerPixel, 2), 'px/m')]] as [string, string][])
              : []),
          ]}
        />
        <HStack gap="2">
          <Button
            size="2xs"
            variant="outline"
            onClick={() => workbench.enter({ kind: 'reference', id, first: null })}
          >
            Place again
          </Button>
          <Button
            size="2xs"
            variant="outline"
            onClick={() => session.edit('delete the reference length', edits.removeReference(id))}
          >
            Delete
          </Button>
        </HStack>
      </Stack>
    </SetUpRow>
  )
}

/** A length as it could have been typed. */
function writtenLength(metres: number, error: number): string {
  const plain = (value: number) => String(Number(value.toPrecision(8)))
  return error > 0 ? `${plain(metres)} ± ${plain(error)} m` : `${plain(metres)} m`
}

function AxesRow() {
  const session = useSession()
  const { axes } = useInvestigation()
  const originField = (key: 'x' | 'y') => (
    <TextField
      label={`Origin ${key}, px`}
      value={String(Number(axes.origin[key].toFixed(2)))}
      inputMode="decimal"
      onCommit={(text) => {
        const value = parseNumber(text)
        if (value === null || Math.abs(value) > 1e6) return 'A number of pixels.'
        session.edit('move the origin', edits.setAxes({ origin: { ...axes.origin, [key]: value } }))
        return null
      }}
    />
  )
  const row = (
    <SetUpRow
      state={axes.placed ? 'done' : 'open'}
      label="Axes"
      value={axes.placed ? `tilt ${degrees(axes.tilt)}` : 'not placed yet'}
    >
      <HStack gap="2" flexWrap="wrap">
        <Button size="2xs" variant="outline" onClick={() => workbench.enter({ kind: 'origin' })}>
          Place the origin
        </Button>
        <Button
          size="2xs"
          variant="outline"
          onClick={() => workbench.enter({ kind: 'axis-line', first: null })}
        >
          Lay x along a line
        </Button>
      </HStack>
      <Grid templateColumns="1fr 1fr 1fr" gap="2" marginTop="2">
        {originField('x')}
        {originField('y')}
        <TextField
          label="Tilt, °"
          value={String(Number(((axes.tilt * 180) / Math.PI).toFixed(3)))}
          inputMode="decimal"
          onCommit={(text) => {
            const value = parseNumber(text.replace('°', ''))
            if (value === null || Math.abs(value) > 360) return 'Degrees from −360 to 360.'
            session.edit('tilt the axes', edits.setAxes({ tilt: (value * Math.PI) / 180 }))
            return null
          }}
        />
      </Grid>
      <Text fontSize="13px" color="ink.muted" marginTop="2">
        The tilt turns anticlockwise on the picture. The arrows can be dragged on it, too.
      </Text>
    </SetUpRow>
  )
  if (axes.placed) return row
  return (
    <>
      {row}
      <Box paddingX="4" paddingTop="1">
        <Button size="xs" variant="outline" onClick={() => workbench.enter({ kind: 'origin' })}>
          Place the origin
        </Button>
      </Box>
    </>
  )
}

function Bodies() {
  const session = useSession()
  const investigation = useInvestigation()
  const chosen = useWorkbench((state) => state.body)
  const mode = useWorkbench((state) => state.mode)
  const [naming, setNaming] = useState<string | null>(null)
  const active = activeBody(investigation, chosen)
  const bodies = inOrder(investigation.bodies)
  const add = () => setNaming(addBody(session))
  return (
    <Box as="section" paddingTop="2">
      <Flex align="center" paddingX="4">
        <Text as="h2" fontWeight="600" flex="1">
          What moves?
        </Text>
        {bodies.length > 0 && (
          <IconButton size="2xs" variant="ghost" aria-label="Add a body" title="Add a body" onClick={add}>
            <Plus size={16} />
          </IconButton>
        )}
      </Flex>
      {bodies.length === 0 && (
        <Box paddingX="4">
          <Text fontSize="13px" color="ink.muted" marginY="1">
            Name what you want to measure, then click it in frame after frame.
          </Text>
          <Button size="xs" variant="outline" onClick={add}>
            Add a body
          </Button>
        </Box>
      )}
      <Stack gap="1" paddingX="2">
        {bodies.map(([id, body], index) => (
          <BodyRow
            key={id}
            id={id}
            body={body}
            number={index + 1}
            active={id === active}
            naming={naming === id}
            setNaming={setNaming}
          />
        ))}
      </Stack>
      {active && (
        <Box position="sticky" bottom="0" bg="panel" paddingX="4" paddingY="2">
          <Button
            width="100%"
            size="sm"
            colorPalette="brand"
            aria-pressed={mode.kind === 'mark'}
            onClick={() => (mode.kind === 'mark' ? workbench.leave() : startMarking(session))}
          >
            <Text truncate>
              {mode.kind === 'mark' ? 'Marking … (Esc ends)' : `Mark ${investigation.bodies[active].name}`}
            </Text>
          </Button>
        </Box>
      )}
    </Box>
  )
}

function BodyRow(props: {
  id: string
  body: Body
  number: number
  active: boolean
  naming: boolean
  setNaming: (id: string | null) => void
}) {
  const { id, body, number, active, naming, setNaming } = props
  const session = useSession()
  const { span } = useInvestigation()
  const used = Object.keys(body.marks).filter((frame) => inSpan(span, Number(frame))).length
  return (
    <Flex
      align="center"
      gap="2"
      paddingX="2"
      height="8"
      borderRadius="8px"
      bg={active ? 'petrol.tint' : undefined}
    >
      <Marker shape={body.shape} colour={BODY_PAINT[body.colour].mark} />
      {naming ? (
        <Box flex="1">
          <TextField
            label="Name of the body"
            hideLabel
            value={body.name}
            autoFocus
            fontFamily="body"
            maxLength={120}
            onFocus={(event) => event.currentTarget.select()}
            onCommit={(text) => {
              if (!text) return 'A name, please.'
              session.edit('name the body', edits.renameBody(id, text))
              setNaming(null)
              return null
            }}
          />
        </Box>
      ) : (
        <Text
          as="button"
          flex="1"
          minWidth="0"
          textAlign="left"
          truncate
          fontWeight={active ? '600' : '400'}
          title={body.name}
          onClick={() => workbench.setBody(id)}
          onDoubleClick={() => setNaming(id)}
        >
          {body.name}
        </Text>
      )}
      <Text fontFamily="mono" fontSize="13px" color="ink.muted" whiteSpace="nowrap" title={`key ${number}`}>
        {used === 1 ? '1 mark' : `${used} marks`}
      </Text>
      <MoreMenu
        of={body.name}
        size="2xs"
        choices={[
          { label: 'Rename', act: () => setNaming(id) },
          {
            label: 'Delete',
            grave: true,
            act: () => session.edit(`delete ${body.name}`, edits.removeBody(id)),
          },
        ]}
      />
    </Flex>
  )
}
