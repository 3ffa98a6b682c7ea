import { flaggedFrames } from '@apokinema/core/motion'
import { useInvestigation } from '../document/SessionContext.tsx'

/** Returns the frames whose time would displace a body if frames were assumed to be even. */
export function useFlags(): number[] {
  return flaggedFrames(useInvestigation())
}
