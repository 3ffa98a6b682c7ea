import { refusalsOf } from '@apokinema/core/investigation'
import { markErrorOf } from '@apokinema/core/motion'
import { frameCount, proposedStep } from '@apokinema/core/time'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useSurveyed } from './useSurvey.ts'

/** Returns the proposed span in which the clip moves, as long as nobody has chosen one or refused this. */
export function useProposedSpan(): { first: number; last: number; every: number } | null {
  const investigation = useInvestigation()
  const { span, footage, bodies } = investigation
  const surveyed = useSurveyed()
  if (!footage || !surveyed?.motion) return null
  if (refusalsOf(investigation, 'span').length > 0) return null
  const last = frameCount(footage.ticks) - 1
  const untouched = span.first === 0 && span.last === last && span.every === 1
  const { from, to } = surveyed.motion
  if (!untouched || (from <= 1 && to >= last - 1)) return null
  const [body] = Object.values(bodies)
  const every = proposedStep(to - from + 1, surveyed.speed || null, body ? markErrorOf(body) : undefined)
  return { first: from, last: to, every }
}
