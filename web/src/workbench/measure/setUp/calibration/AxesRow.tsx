import { directionInPicture, lineError } from '@apokinema/core/geometry'
import { axesOf, edits, framesInUse, inOrder } from '@apokinema/core/investigation'
import { markErrors } from '@apokinema/core/motion'
import { angleMeasurement, degrees } from '@apokinema/core/units'
import { Box, Button, Grid, HStack, NativeSelect, Stack, Text } from '@chakra-ui/react'
import { v4 as uuid } from 'uuid'
import { Fold } from '../../../../common/Fold.tsx'
import { MoreMenu } from '../../../../common/MoreMenu.tsx'
import { notify } from '../../../../common/messages.tsx'
import { parseNumber, TextField } from '../../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../../document/SessionContext.tsx'
import { enterMode, isLocked } from '../../../calibrating.ts'
import { activeBody } from '../../../shown.ts'
import { useWorkbench } from '../../../workbenchStore.ts'
import { SetUpRow } from '../SetUpRow.tsx'

/** Origin, directions and tilt of the axes, and named sets of axes. */
export function AxesRow() {
  const session = useSession()
  const investigation = useInvestigation()
  const axes = axesOf(investigation)
  const change = (label: string, what: Parameters<typeof edits.setAxes>[0]) => {
    if (!isLocked(session, 'axes')) session.edit(label, edits.setAxes(what))
  }
  const way = (name: 'x' | 'y', turned: boolean, [plain, other]: [string, string]) => (
    <Button
      size="2xs"
      variant="outline"
      aria-pressed={turned}
      title={`Turn ${name} round, and only ${name}`}
      onClick={() => change(`turn ${name} round`, name === 'x' ? { turnedX: !turned } : { turnedY: !turned })}
    >
      {name} counts {turned ? other : plain} ⇄
    </Button>
  )
  return (
    <SetUpRow
      state={axes.placed ? 'done' : 'plain'}
      place="axes"
      label={axes.name[0].toUpperCase() + axes.name.slice(1)}
      value={axes.placed ? `tilt ${degrees(axes.tilt)}` : 'upright'}
    >
      <Stack gap="2">
        <PlaceButtons />
        <AxesFields change={change} />
        {axes.tiltError > 0 && (
          <Text fontSize="small" color="ink.muted">
            By the line that it was laid along: tilt {angleMeasurement(axes.tilt, axes.tiltError)}
          </Text>
        )}
        <HStack gap="2" flexWrap="wrap">
          {way('x', axes.turnedX, ['rightwards', 'leftwards'])}
          {way('y', axes.turnedY, ['upwards', 'downwards'])}
        </HStack>
        <Text fontSize="small" color="ink.muted">
          Angles run {axes.turnedX === axes.turnedY ? 'anticlockwise' : 'clockwise'} on the picture, from +x
          towards +y. The arrows can be dragged on it, too.
        </Text>
        <Fold name="axes" label="Name, and other axes beside these">
          <Box paddingTop="2">
            <Sets />
          </Box>
        </Fold>
      </Stack>
    </SetUpRow>
  )
}

/** Places the origin or lays an axis: on the picture, or by the marks. */
function PlaceButtons() {
  const session = useSession()
  return (
    <HStack gap="2" flexWrap="wrap">
      <Button size="2xs" variant="outline" onClick={() => enterMode(session, { kind: 'origin' })}>
        Place the origin
      </Button>
      <FromMarks />
      <Button
        size="2xs"
        variant="outline"
        onClick={() => enterMode(session, { kind: 'axis-line', along: 'x', points: [] })}
      >
        Lay x along a line
      </Button>
      <Button
        size="2xs"
        variant="outline"
        onClick={() => enterMode(session, { kind: 'axis-line', along: 'y', points: [] })}
      >
        Lay y along a line
      </Button>
    </HStack>
  )
}

/** Origin and tilt as numbers. */
function AxesFields({ change }: { change(label: string, what: Parameters<typeof edits.setAxes>[0]): void }) {
  const axes = axesOf(useInvestigation())
  const originField = (key: 'x' | 'y') => (
    <TextField
      label={`${key}₀, px`}
      value={String(Number(axes.origin[key].toFixed(2)))}
      inputMode="decimal"
      onCommit={(text) => {
        const value = parseNumber(text)
        if (value === null || Math.abs(value) > 1e6) return 'A number of pixels.'
        change('move the origin', { origin: { ...axes.origin, [key]: value, error: 0 } })
        return null
      }}
    />
  )
  return (
    <Grid templateColumns="1fr 1fr 1fr" gap="2">
      {originField('x')}
      {originField('y')}
      <TextField
        label="Tilt, °"
        value={String(Number(((axes.tilt * 180) / Math.PI).toFixed(3)))}
        inputMode="decimal"
        onCommit={(text) => {
          const value = parseNumber(text.replace('°', ''))
          if (value === null || Math.abs(value) > 360) return 'Degrees from −360 to 360.'
          change('tilt the axes', { tilt: (value * Math.PI) / 180, tiltError: 0 })
          return null
        }}
      />
    </Grid>
  )
}

/** Places the origin at the active body's first mark, and the tilt through its first and last. */
function FromMarks() {
  const session = useSession()
  const investigation = useInvestigation()
  const chosen = useWorkbench((state) => state.body)
  const id = activeBody(investigation, chosen)
  if (!id) return null
  const body = investigation.bodies[id]
  const { marks, name } = body
  const markAt = (frame: number) => {
    const { x, y } = marks[frame]
    return { x, y, error: markErrors(body).at(frame) }
  }
  const used = framesInUse(investigation)
  const frames = Object.keys(marks)
    .map(Number)
    .filter((frame) => used.has(frame))
    .sort((a, b) => a - b)
  if (frames.length === 0) return null
  const [first, last] = [frames[0], frames[frames.length - 1]]
  return (
    <>
      <Button
        size="2xs"
        variant="outline"
        onClick={() => {
          if (!isLocked(session, 'axes'))
            session.edit('place the origin', edits.setAxes({ origin: { ...markAt(first), frame: first } }))
        }}
      >
        Origin at {name}’s first mark
      </Button>
      {frames.length > 1 && (
        <Button
          size="2xs"
          variant="outline"
          title="x runs from its first mark towards its last"
          onClick={() => {
            if (isLocked(session, 'axes')) return
            const [from, to] = [markAt(first), markAt(last)]
            if (Math.hypot(to.x - from.x, to.y - from.y) < 2)
              notify('Its first and last mark are on one spot, so they give no direction.')
            else
              session.edit(
                'lay x along the marks',
                edits.setAxes({ tilt: directionInPicture(from, to), tiltError: lineError([from, to]) }),
              )
          }}
        >
          Lay x along its marks
        </Button>
      )}
    </>
  )
}

/** Several sets of axes, one of which is the main one. */
function Sets() {
  const session = useSession()
  const investigation = useInvestigation()
  const { mainAxes } = investigation
  const sets = inOrder(investigation.axes)
  const { name } = axesOf(investigation)
  return (
    <Stack gap="2">
      <HStack gap="2" align="end">
        <Box flex="1">
          <TextField
            label="Name of these axes"
            value={name}
            fontFamily="body"
            maxLength={120}
            onCommit={(text) => {
              if (!text) return 'A name, please.'
              session.edit('name the axes', edits.renameAxes(mainAxes, text))
              return null
            }}
          />
        </Box>
        <MoreMenu
          of="these axes"
          size="2xs"
          choices={[
            {
              label: 'Keep these and add others',
              act: () => session.edit('add axes', edits.addAxes(uuid(), `axes ${sets.length + 1}`)),
            },
            ...(sets.length > 1
              ? [
                  {
                    label: 'Delete these axes',
                    grave: true,
                    act: () => {
                      if (!isLocked(session, 'axes')) session.edit('delete axes', edits.removeAxes(mainAxes))
                    },
                  },
                ]
              : []),
          ]}
        />
      </HStack>
      {sets.length > 1 && (
        <NativeSelect.Root size="xs">
          <NativeSelect.Field
            aria-label="Axes that are used"
            value={mainAxes}
            onChange={(event) => session.edit('choose other axes', edits.chooseAxes(event.target.value))}
          >
            {sets.map(([id, set]) => (
              <option key={id} value={id}>
                use {set.name}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      )}
    </Stack>
  )
}
