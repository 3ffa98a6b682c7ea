import {
  type CameraMotion,
  followedLandmarkError,
  markedFrames,
  POINTS_NEEDED,
} from '@apokinema/core/geometry'
import { edits, inOrder, type Landmark } from '@apokinema/core/investigation'
import { isCameraAsked } from '@apokinema/core/proposals'
import { cameraOf } from '@apokinema/core/scene'
import { fixed } from '@apokinema/core/units'
import { Box, Button, Flex, HStack, Stack, Text } from '@chakra-ui/react'
import { v4 as uuid } from 'uuid'
import { MoreMenu } from '../../../../common/MoreMenu.tsx'
import { TextField } from '../../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../../document/SessionContext.tsx'
import { useNextStep } from '../../../nextStep.ts'
import { ProposalBox } from '../../../proposals/ProposalBox.tsx'
import { useWorkbench, workbench } from '../../../workbenchStore.ts'
import { SetUpRow } from '../SetUpRow.tsx'
import { Choice } from './Choice.tsx'
import { useCameraProposal } from './cameraProposal.ts'

const ANSWERS = {
  still: 'stood still',
  turned: 'turned',
  zoomed: 'turned and zoomed',
  tilted: 'also tilted',
} as const
type Answer = keyof typeof ANSWERS

/** Misfit of landmarks in pixels below which it is not mentioned. */
const LEAST_MISFIT = 0.5
/** Share of the frames in which landmarks must check each other. */
const MOSTLY = 0.5

const said = (motion: Answer) => `The still parts of the picture say: it ${ANSWERS[motion]}.`

/** The motion of the camera, and the landmarks that compensate it. */
export function CameraRow() {
  const session = useSession()
  const investigation = useInvestigation()
  const { camera } = investigation
  const { motion } = camera
  const proposal = useCameraProposal()
  const landmarks = inOrder(camera.landmarks)
  const needed = motion === 'still' ? 0 : POINTS_NEEDED[motion]
  const answer = (chosen: Answer) => session.edit('tell what the camera did', edits.setCameraMotion(chosen))
  const isOther = proposal !== null && proposal.motion !== motion
  const isOff = proposal !== null && isCameraAsked(investigation, proposal.motion)
  const next = useNextStep()
  const row = (
    <SetUpRow
      state={landmarks.length < needed || isOff ? 'note' : motion === 'still' ? 'plain' : 'done'}
      label="Camera"
      isBehindMore={motion === 'still' && !isOff}
      value={motion !== 'still' && landmarks.length < needed ? 'needs landmarks' : ANSWERS[motion]}
    >
      <Stack gap="2">
        <Choice
          label="What did the camera do?"
          value={motion}
          options={Object.entries(ANSWERS) as [Answer, string][]}
          onChoose={answer}
        />
        {!isOff && isOther && (
          <HStack gap="2" align="start" fontSize="small">
            <Text flex="1">{said(proposal.motion)}</Text>
            <Button size="2xs" variant="outline" onClick={proposal.take}>
              Take that
            </Button>
          </HStack>
        )}
        {motion !== 'still' && (
          <>
            <Text fontSize="small" color="ink.muted">
              {needed === 1 ? 'One fixed point' : 'Two fixed points'} of the scene, or more, marked through
              the film, undo it. They have to be as far away as the motion. Between marks a landmark is filled
              in.
            </Text>
            {landmarks.map(([id, landmark]) => (
              <LandmarkRow key={id} id={id} landmark={landmark} />
            ))}
            <HStack gap="2">
              <Button
                size="2xs"
                variant="outline"
                onClick={() => workbench.enter({ kind: 'landmark', id: null })}
              >
                Add a landmark
              </Button>
            </HStack>
            <PathVerdict motion={motion} landmarks={landmarks.map(([, landmark]) => landmark)} />
          </>
        )}
      </Stack>
    </SetUpRow>
  )
  if (!isOff) return row
  return (
    <>
      {row}
      <ProposalBox
        reason={
          proposal.spots > 0
            ? `${proposal.spots} fixed spots become landmarks. They are followed with the first body.`
            : undefined
        }
        choices={[
          {
            label: 'Take',
            says: 'Take what the camera did',
            isNext: next === 'camera',
            act: proposal.take,
          },
        ]}
        refuse={{
          says: 'No, the camera did not move',
          act: () => session.edit('refuse what the camera did', edits.refuse(uuid(), { kind: 'camera' })),
        }}
      >
        {said(proposal.motion)}
      </ProposalBox>
    </>
  )
}

/** What the landmarks say about themselves: whether they suffice, where they hand over, and whether they agree. */
function PathVerdict({ motion, landmarks }: { motion: CameraMotion; landmarks: Landmark[] }) {
  const path = cameraOf(useInvestigation())
  const needed = POINTS_NEEDED[motion]
  const count = landmarks.length
  if (count >= needed && landmarks.every((landmark) => markedFrames(landmark).length === 1))
    return (
      <Text fontSize="small" color="ink.muted">
        Each is marked in one frame so far. Following a body follows them along; or mark each of them on by
        hand.
      </Text>
    )
  const isUndetermined = path !== null && count >= needed && path.toReference(path.base + 1) === null
  return (
    <>
      {isUndetermined && (
        <Text fontSize="small" color="alarm">
          These landmarks don’t tell what the camera did: they lie too close together, or are not seen at the
          same time. Frames without them are left out.
        </Text>
      )}
      {path?.seams.map(({ frame, change }) => (
        <Text key={frame} fontSize="small" color={Math.abs(change) > 0.01 ? 'alarm' : undefined}>
          Handed over at frame {frame}: the scale jumps by {fixed(100 * change, 2)} % there
          {Math.abs(change) > 0.01 ? '. Did a landmark slip, or lie at another distance?' : '.'}
        </Text>
      ))}
      {path && path.misfit > Math.max(LEAST_MISFIT, 2 * path.expectedMisfit) && (
        <Text fontSize="small" color="alarm">
          The landmarks contradict each other by {fixed(path.misfit, 1)} px: one slipped, or they lie at
          different distances from the camera.
        </Text>
      )}
      {path && count >= needed && path.redundancy < MOSTLY && (
        <Text fontSize="small" color="ink.muted">
          {count > needed
            ? 'Too few landmarks are seen at the same time to show whether one slips.'
            : `${count === 1 ? 'One landmark' : `${count} landmarks`} can’t show whether one slips. Add ${needed === 1 ? 'a second' : 'a third'} one: then they check each other.`}
        </Text>
      )}
    </>
  )
}

function LandmarkRow({ id, landmark }: { id: string; landmark: Landmark }) {
  const session = useSession()
  const mode = useWorkbench((state) => state.mode)
  const isMarking = mode.kind === 'landmark' && mode.id === id
  const frames = markedFrames(landmark)
  const error = followedLandmarkError(landmark)
  const goneFrom = () => {
    const { frame } = useWorkbench.getState()
    session.edit(
      'tell when a landmark is gone',
      edits.changeLandmark(id, { gone: Math.max(frame, frames[0] + 1) }),
    )
  }
  return (
    <Box>
      <Flex gap="1" align="center">
        <Box flex="1">
          <TextField
            label="Name of the landmark"
            hideLabel
            value={landmark.name}
            fontFamily="body"
            maxLength={120}
            onCommit={(text) => {
              if (!text) return 'A name, please.'
              session.edit('name the landmark', edits.changeLandmark(id, { name: text }))
              return null
            }}
          />
        </Box>
        <Button
          size="2xs"
          variant="outline"
          aria-pressed={isMarking}
          onClick={() => (isMarking ? workbench.leave() : workbench.enter({ kind: 'landmark', id }))}
        >
          Mark
        </Button>
        <MoreMenu
          of={landmark.name}
          size="2xs"
          choices={[
            landmark.gone === null
              ? { label: 'Can’t be seen from this frame on', act: goneFrom }
              : {
                  label: `Is seen after frame ${landmark.gone}, too`,
                  act: () => session.edit('a landmark stays', edits.changeLandmark(id, { gone: null })),
                },
            {
              label: 'Delete',
              grave: true,
              act: () => session.edit('delete the landmark', edits.removeLandmark(id)),
            },
          ]}
        />
      </Flex>
      <Text fontFamily="mono" fontSize="small" color="ink.muted" paddingX="2">
        {frames.length === 1 ? '1 mark' : `${frames.length} marks`}
        {error !== null && ` ± ${fixed(error, 2)} px`}
      </Text>
    </Box>
  )
}
