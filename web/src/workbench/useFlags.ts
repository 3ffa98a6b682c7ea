import { flaggedFrames } from '@apokinema/core/motion'
import { useInvestigation } from '../document/SessionContext.tsx'

/** Returns the frames whose time would put a body off if frames were taken for even. */
export function useFlags(): number[] {
  return flaggedFrames(useInvestigation())
}
