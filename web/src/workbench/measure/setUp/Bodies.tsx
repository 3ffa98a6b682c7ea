import { type Body, edits, framesInUse, inOrder } from '@apokinema/core/investigation'
import type { UsedFrames } from '@apokinema/core/time'
import { Box, Button, Flex, IconButton, Stack, Text } from '@chakra-ui/react'
import { EyeOff, Lock, Plus } from 'lucide-react'
import { memo, useState } from 'react'
import { Link } from 'react-router'
import { v4 as uuid } from 'uuid'
import { type MenuChoice, MoreMenu } from '../../../common/MoreMenu.tsx'
import { TextField } from '../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import type { Session } from '../../../document/session.ts'
import { BODY_PAINT } from '../../../theme/palettes.ts'
import { endFollowing, startFollowing } from '../../following/followActions.ts'
import { Marker } from '../../Marker.tsx'
import { addBody, startMarking, startSecond } from '../../marking.ts'
import { stepButton, useNextStep } from '../../nextStep.ts'
import { ProposedBodies } from '../../proposals/ProposedBodies.tsx'
import { activeBody } from '../../shown.ts'
import { useSurveyStore } from '../../survey/useSurvey.ts'
import { useWorkbench, workbench } from '../../workbenchStore.ts'
import { BodyDetails } from './BodyDetails.tsx'

/** The bodies, and the way into marking. */
export function Bodies() {
  const session = useSession()
  const investigation = useInvestigation()
  const chosen = useWorkbench((state) => state.body)
  const [naming, setNaming] = useState<string | null>(null)
  const active = activeBody(investigation, chosen)
  const bodies = inOrder(investigation.bodies)
  const frames = framesInUse(investigation)
  const next = useNextStep()
  const progress = useSurveyStore((state) => state.progress)
  const add = () => setNaming(addBody(session))
  return (
    <Flex
      as="section"
      aria-label="What moves?"
      direction="column"
      flex="none"
      maxHeight={{ lg: '55%' }}
      paddingTop="1.5"
      bg="panel"
      borderTop={{ lg: '1px solid' }}
      borderColor={{ lg: 'line' }}
    >
      <Flex align="center" paddingLeft="4" paddingRight="2" minHeight="7" flex="none">
        <Text as="h2" fontWeight="600" flex="1">
          What moves?
        </Text>
        {(bodies.length > 0 || next === 'follow') && (
          <IconButton size="2xs" variant="ghost" aria-label="Add a body" title="Add a body" onClick={add}>
            <Plus size={16} />
          </IconButton>
        )}
      </Flex>
      <Box minHeight="0" overflowY={{ lg: 'auto' }}>
        <ProposedBodies isNext={next === 'follow'} />
        {bodies.length === 0 && next !== 'follow' && (
          <Box paddingX="4" paddingBottom="2">
            <Text fontSize="small" color="ink.muted" marginBottom="1">
              {progress < 1
                ? `Looking for what moves, ${Math.round(100 * progress)} %.`
                : next === 'camera'
                  ? 'First say what the camera did: then what moves can be found.'
                  : 'Name what you want to measure, then click it in frame after frame.'}
            </Text>
            <Button size="sm" width="100%" {...stepButton(next === 'add-body')} onClick={add}>
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
      </Box>
      {active && (
        <WaysToMark
          name={investigation.bodies[active].name}
          isMarkingNext={next === 'mark'}
          areGraphsNext={next === 'graphs'}
        />
      )}
    </Flex>
  )
}

/** By hand or followed, and on to the graphs. Renders when the labels of its buttons change, not with every mark. */
const WaysToMark = memo(function WaysToMark({
  name,
  isMarkingNext,
  areGraphsNext,
}: {
  name: string
  isMarkingNext: boolean
  areGraphsNext: boolean
}) {
  const session = useSession()
  const mode = useWorkbench((state) => state.mode)
  return (
    <Flex flex="none" paddingX="4" paddingY="2" gap="2" flexWrap="wrap">
      <Button
        flex="1"
        minWidth="0"
        size="sm"
        {...stepButton(isMarkingNext)}
        aria-pressed={mode.kind === 'mark'}
        onClick={() => (mode.kind === 'mark' ? workbench.leave() : startMarking(session))}
      >
        <Text truncate>{mode.kind === 'mark' ? 'Marking …' : `Mark ${name}`}</Text>
      </Button>
      <Button
        size="sm"
        {...stepButton(false)}
        title="Have it followed by the computer (F)"
        aria-pressed={mode.kind === 'follow'}
        disabled={mode.kind === 'mark'}
        onClick={() => (mode.kind === 'follow' ? endFollowing() : startFollowing(session))}
      >
        Follow
      </Button>
      {areGraphsNext && (
        <Button asChild size="sm" width="100%" {...stepButton(true)}>
          <Link to={`/investigations/${session.id}/graphs`}>See its graphs</Link>
        </Button>
      )}
    </Flex>
  )
})

/** Returns what the menu of a body offers. */
function bodyChoices(
  session: Session,
  id: string,
  body: Body,
  { rename, open }: { rename(): void; open(): void },
): MenuChoice[] {
  const change = (label: string, what: Parameters<typeof edits.changeBody>[1]) =>
    session.edit(label, edits.changeBody(id, what))
  const isClearable = !body.locked && Object.keys(body.marks).length > 0
  return [
    { label: 'Rename', act: rename },
    { label: 'Colour, shape, mass, error …', act: open },
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
    ...(!isClearable
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
  ]
}

interface BodyRowProps {
  id: string
  body: Body
  frames: UsedFrames
  number: number
  active: boolean
  naming: boolean
  setNaming: (id: string | null) => void
}

/** A row renders only when its own body changes: there can be twenty, and a mark is set in one. */
const BodyRow = memo(function BodyRow(props: BodyRowProps) {
  const { id, body, frames, number, active, naming, setNaming } = props
  const session = useSession()
  const used = Object.keys(body.marks).filter((frame) => frames.has(Number(frame))).length
  const [open, setOpen] = useState(false)
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
        <Marker shape={body.shape} colour={BODY_PAINT[body.colour]} />
        <BodyName id={id} body={body} active={active} naming={naming} setNaming={setNaming} />
        {body.hidden && <EyeOff size={14} aria-label="hidden" />}
        {body.locked && <Lock size={14} aria-label="locked" />}
        <Text
          fontFamily="mono"
          fontSize="small"
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
          choices={bodyChoices(session, id, body, {
            rename: () => setNaming(id),
            open: () => setOpen(!open),
          })}
        />
      </Flex>
      {open && <BodyDetails id={id} body={body} close={() => setOpen(false)} />}
    </>
  )
})

/** The name of a body, or the field in which it is typed. */
function BodyName({
  id,
  body,
  active,
  naming,
  setNaming,
}: Pick<BodyRowProps, 'id' | 'body' | 'active' | 'naming' | 'setNaming'>) {
  const session = useSession()
  return naming ? (
    <Box flex="1">
      <TextField
        label="Name of the body"
        hideLabel
        value={body.name}
        autoFocus
        // Above the buttons that stay in view at the bottom.
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
  )
}
