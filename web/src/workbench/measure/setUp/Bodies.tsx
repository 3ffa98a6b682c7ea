import {
  BODY_COLOURS,
  BODY_SHAPES,
  type Body,
  edits,
  framesInUse,
  inOrder,
} from '@apokinema/core/investigation'
import { markErrors } from '@apokinema/core/motion'
import type { UsedFrames } from '@apokinema/core/time'
import { fixed, parseMass, shownMass } from '@apokinema/core/units'
import { Box, Button, Flex, IconButton, Stack, Text } from '@chakra-ui/react'
import { EyeOff, Lock, Plus } from 'lucide-react'
import { memo, useState } from 'react'
import { v4 as uuid } from 'uuid'
import { MoreMenu } from '../../../common/MoreMenu.tsx'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../../theme/system.ts'
import { endFollowing, startFollowing } from '../../following/followActions.ts'
import { Marker } from '../../Marker.tsx'
import { addBody, startMarking, startSecond } from '../../marking.ts'
import { activeBody } from '../../shown.ts'
import { useWorkbench, workbench } from '../../workbenchStore.ts'

/** The bodies, and the way into marking. */
export function Bodies() {
  const session = useSession()
  const investigation = useInvestigation()
  const chosen = useWorkbench((state) => state.body)
  const [naming, setNaming] = useState<string | null>(null)
  const active = activeBody(investigation, chosen)
  const bodies = inOrder(investigation.bodies)
  const frames = framesInUse(investigation)
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
            frames={frames}
            number={index + 1}
            active={id === active}
            naming={naming === id}
            setNaming={setNaming}
          />
        ))}
      </Stack>
      {active && <WaysToMark name={investigation.bodies[active].name} />}
    </Box>
  )
}

/** By hand, or followed: rendered by what its buttons say, not by every mark. */
const WaysToMark = memo(function WaysToMark({ name }: { name: string }) {
  const session = useSession()
  const mode = useWorkbench((state) => state.mode)
  return (
    <Flex position="sticky" bottom="0" bg="panel" paddingX="4" paddingY="2" gap="2">
      <Button
        flex="1"
        minWidth="0"
        size="sm"
        colorPalette="brand"
        aria-pressed={mode.kind === 'mark'}
        onClick={() => (mode.kind === 'mark' ? workbench.leave() : startMarking(session))}
      >
        <Text truncate>{mode.kind === 'mark' ? 'Marking …' : `Mark ${name}`}</Text>
      </Button>
      <Button
        size="sm"
        variant="outline"
        title="Have it followed by the computer (F)"
        aria-pressed={mode.kind === 'follow'}
        disabled={mode.kind === 'mark'}
        onClick={() => (mode.kind === 'follow' ? endFollowing() : startFollowing(session))}
      >
        Follow
      </Button>
    </Flex>
  )
})

/** A row is rendered by what changes of its own body: there can be twenty of them, and a mark is set in one. */
const BodyRow = memo(function BodyRow(props: {
  id: string
  body: Body
  frames: UsedFrames
  number: number
  active: boolean
  naming: boolean
  setNaming: (id: string | null) => void
}) {
  const { id, body, frames, number, active, naming, setNaming } = props
  const session = useSession()
  const count = Object.keys(body.marks).length
  const used = Object.keys(body.marks).filter((frame) => frames.has(Number(frame))).length
  const [open, setOpen] = useState(false)
  const change = (label: string, what: Parameters<typeof edits.changeBody>[1]) =>
    session.edit(label, edits.changeBody(id, what))
  return (
    <>
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
              // Clear of the ways to mark, which stay in sight below.
              scrollMarginBottom="16"
              fontFamily="body"
              maxLength={120}
              onFocus={(event) => event.currentTarget.select()}
              onCommit={(text) => {
                if (!text) return 'A name, please.'
                session.edit('name the body', edits.changeBody(id, { name: text }))
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
        {body.hidden && <EyeOff size={14} aria-label="hidden" />}
        {body.locked && <Lock size={14} aria-label="locked" />}
        <Text
          fontFamily="mono"
          fontSize="13px"
          color="ink.muted"
          whiteSpace="nowrap"
          title={`key ${number}`}
          data-marks={used}
        >
          {used === 1 ? '1 mark' : `${used} marks`}
        </Text>
        <MoreMenu
          of={body.name}
          size="2xs"
          choices={[
            { label: 'Rename', act: () => setNaming(id) },
            { label: 'Colour, shape, mass, error …', act: () => setOpen(!open) },
            {
              label: body.hidden ? 'Show on the picture' : 'Hide on the picture',
              act: () => change(body.hidden ? 'show the body' : 'hide the body', { hidden: !body.hidden }),
            },
            {
              label: body.locked ? 'Unlock its marks' : 'Lock its marks',
              act: () => change(body.locked ? 'unlock the body' : 'lock the body', { locked: !body.locked }),
            },
            { label: 'Mark how it is turned', act: () => startSecond(session, id) },
            { label: 'Move up', act: () => session.edit('reorder bodies', edits.moveBody(id, -1)) },
            { label: 'Move down', act: () => session.edit('reorder bodies', edits.moveBody(id, 1)) },
            {
              label: 'Duplicate',
              act: () =>
                session.edit(
                  `duplicate ${body.name}`,
                  edits.duplicateBody(id, uuid(), { position: uuid(), velocity: uuid() }),
                ),
            },
            ...(body.locked || count === 0
              ? []
              : [
                  {
                    label: 'Clear its marks',
                    grave: true,
                    act: () => session.edit(`clear the marks of ${body.name}`, edits.clearMarks(id)),
                  },
                ]),
            {
              label: 'Delete',
              grave: true,
              act: () => session.edit(`delete ${body.name}`, edits.removeBody(id)),
            },
          ]}
        />
      </Flex>
      {open && <BodyDetails id={id} body={body} close={() => setOpen(false)} />}
    </>
  )
})

const showAll = (node: HTMLElement | null) => node?.scrollIntoView({ block: 'nearest' })

/** Colour, marker, mass of a body, and the error of its marks. */
function BodyDetails({ id, body, close }: { id: string; body: Body; close: () => void }) {
  const session = useSession()
  const errors = markErrors(body)
  const change = (label: string, what: Parameters<typeof edits.changeBody>[1]) =>
    session.edit(label, edits.changeBody(id, what))
  return (
    <Box
      ref={showAll}
      paddingX="2"
      paddingBottom="2"
      // The buttons below stay in view over it.
      scrollMarginBottom="60px"
    >
      <Flex gap="1" role="group" aria-label="Colour" marginBottom="1">
        {BODY_COLOURS.map((colour) => (
          <IconButton
            key={colour}
            size="2xs"
            variant={colour === body.colour ? 'outline' : 'ghost'}
            aria-label={colour}
            title={colour}
            aria-pressed={colour === body.colour}
            onClick={() => change('colour the body', { colour })}
          >
            <Marker shape="circle" colour={BODY_PAINT[colour].mark} />
          </IconButton>
        ))}
      </Flex>
      <Flex gap="1" role="group" aria-label="Shape" marginBottom="1">
        {BODY_SHAPES.map((shape) => (
          <IconButton
            key={shape}
            size="2xs"
            variant={shape === body.shape ? 'outline' : 'ghost'}
            aria-label={shape}
            title={shape}
            aria-pressed={shape === body.shape}
            onClick={() => change('change the marker', { shape })}
          >
            <Marker shape={shape} colour={BODY_PAINT[body.colour].mark} />
          </IconButton>
        ))}
      </Flex>
      <Flex gap="2" align="end">
        <Box flex="1">
          <TextField
            label="Mass ± error, in kg or g"
            value={body.mass ? shownMass(body.mass) : ''}
            placeholder="unknown"
            onCommit={(text) => {
              const mass = parseMass(text)
              if (mass === undefined) return 'Such as 0.250 kg or 250 ± 2 g.'
              change('state the mass', { mass })
              return null
            }}
          />
        </Box>
        <Box flex="1">
          <TextField
            label="Error of a mark, px"
            value={body.markError === null ? '' : String(body.markError)}
            placeholder={`${fixed(errors.base, 2)} by the marks`}
            onCommit={(text) => {
              const markError = text === '' ? null : parseNumber(text)
              if (text !== '' && !(markError && markError > 0 && markError <= 1000))
                return 'Pixels, above 0. Empty: as the marks tell.'
              change('state the error of a mark', { markError })
              return null
            }}
          />
        </Box>
      </Flex>
      {errors.growth > 0 && (
        <Text fontSize="13px" color="ink.muted" marginTop="1">
          By the marks’ scatter it grows by {fixed(100 * errors.growth, 0)} % of the way from frame to frame.
        </Text>
      )}
      <Button size="2xs" variant="ghost" onClick={close} marginTop="1">
        Done
      </Button>
    </Box>
  )
}
