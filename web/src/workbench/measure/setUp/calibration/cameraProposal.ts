import { type ProposedCamera, proposedCamera } from '@apokinema/core/survey'
import { useInvestigation } from '../../../../document/SessionContext.tsx'
import { useSurveyStore } from '../../../survey/useSurvey.ts'

/** Returns what the still parts of the picture say that the camera did; null where they don't tell. */
export function useCameraProposal(): ProposedCamera | null {
  const { footage } = useInvestigation()
  const survey = useSurveyStore((state) => (state.footage === footage?.id ? state.survey : null))
  return survey?.camera ? proposedCamera(survey.camera) : null
}
