import { landmarkPlaces, takeCamera } from '@apokinema/core/proposals'
import { type ProposedCamera, proposedCamera } from '@apokinema/core/survey'
import { v4 as uuid } from 'uuid'
import { useInvestigation, useSession } from '../../../../document/SessionContext.tsx'
import { useSurveyOf } from '../../../survey/useSurvey.ts'

/** What the still parts of the picture say of the camera. */
interface CameraProposal {
  motion: ProposedCamera
  /** Number of fixed spots that become landmarks when it is taken. */
  spots: number
  /** Says that it was so, with the spots as landmarks. */
  take: () => void
}

/** Returns the motion of the camera that the background shows; null if it can't be determined. */
export function useCameraProposal(): CameraProposal | null {
  const session = useSession()
  const investigation = useInvestigation()
  const survey = useSurveyOf(investigation.footage?.id)
  if (!survey?.camera) return null
  const motion = proposedCamera(survey.camera)
  const { movers, spots } = survey
  // Where the first body is seen best: following it goes on from there, and takes the landmarks along.
  const frame = movers[0]?.best ?? spots[0]?.path[spots[0].path.length >> 1].frame ?? 0
  return {
    motion,
    spots: landmarkPlaces(investigation, motion, spots, frame).length,
    take: () => {
      const ids = spots.map(() => uuid())
      session.edit('tell what the camera did', takeCamera(session.document, motion, spots, frame, ids))
    },
  }
}
