import { analyse } from '@apokinema/core/analysis'
import type { Investigation } from '@apokinema/core/investigation'
import { isCameraAsked } from '@apokinema/core/proposals'
import { proposedCamera } from '@apokinema/core/survey'
import { useInvestigation } from '../document/SessionContext.tsx'
import { useProposedBodies } from './proposals/useProposedBodies.ts'
import { activeBody } from './shown.ts'
import { useSurveyOf, useSurveyStore } from './survey/useSurvey.ts'
import { useWorkbench } from './workbenchStore.ts'

/** What is to be done next in Measure: say what the camera did, follow what was found, add a body, mark it, tell how big something is, or look at the graphs. */
export type NextStep = 'camera' | 'follow' | 'add-body' | 'mark' | 'scale' | 'graphs'

/** Fewest marks with which a graph shows a motion. */
const FEWEST = 3

/**
 * Returns the one thing to do next. While the clip is still being read and nothing is marked, that is to tell how big something is.
 *
 * @param read what is known of the clip: whether it has been read, whether something was found that can be followed, and whether it has to be
 *   said what the camera did
 */
export function nextStep(
  investigation: Investigation,
  body: string | null,
  read: { isDone: boolean; hasProposal: boolean; asksCamera: boolean },
): NextStep {
  const isScaled = analyse(investigation).scene().scale !== null
  if (body === null) {
    if (read.asksCamera) return 'camera'
    if (read.hasProposal) return 'follow'
    return read.isDone || isScaled ? 'add-body' : 'scale'
  }
  if (Object.keys(investigation.bodies[body].marks).length < FEWEST) return 'mark'
  return isScaled ? 'graphs' : 'scale'
}

/** Returns the one thing to do next in Measure: its button is the only filled one. */
export function useNextStep(): NextStep {
  const investigation = useInvestigation()
  const hasProposal = useProposedBodies().length > 0
  const isDone = useSurveyStore(({ progress }) => progress === 1)
  const camera = useSurveyOf(investigation.footage?.id)?.camera
  const asksCamera = !!camera && isCameraAsked(investigation, proposedCamera(camera))
  const chosen = useWorkbench((state) => state.body)
  return nextStep(investigation, activeBody(investigation, chosen), { isDone, hasProposal, asksCamera })
}

/** Returns the colours of a button: filled if it is what comes next. */
export const stepButton = (isNext: boolean) =>
  isNext
    ? ({ colorPalette: 'brand', variant: 'solid' } as const)
    : ({ variant: 'outline', bg: 'panel' } as const)
