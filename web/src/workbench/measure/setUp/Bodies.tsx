import { type Body, edits, framesInUse, inOrder } from '@apokinema/core/investigation'
import { Box, Button, Flex, IconButton, Stack, Text } from '@chakra-ui/react'
import { Plus } from 'lucide-react'
import { useState } from 'react'
import { MoreMenu } from '../../../common/MoreMenu.tsx'
import { TextField } from '../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../../theme/system.ts'
import { addBody, startMarking } from '../../actions.ts'
import { Marker } from '../../Marker.tsx'
import { activeBody } from '../../shown.ts'
import { useWorkbench, workbench } from '../../workbenchStore.ts'

/** The bodies, and the way into marking. */
export function Bodies() {
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
  const frames = framesInUse(useInvestigation())
  const used = Object.keys(body.marks).filter((frame) => frames.has(Number(frame))).length
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
