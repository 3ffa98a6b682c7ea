import { type ProposedCamera, proposedCamera } from '@apokinema/core/survey'
import { useInvestigation } from '../../../../document/SessionContext.tsx'
import { useSurveyStore } from '../../../survey/useSurvey.ts'

/** Returns the motion of the camera that the background shows; null if it can't be determined. */
export function useCameraProposal(): ProposedCamera | null {
  const { footage } = useInvestigation()
  const survey = useSurveyStore((state) => (state.footage === footage?.id ? state.survey : null))
  return survey?.camera ? proposedCamera(survey.camera) : null
}
