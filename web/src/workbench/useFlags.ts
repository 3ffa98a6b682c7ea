import { flaggedFrames } from '@apokinema/core/motion'
import { useMemo } from 'react'
import { useInvestigation } from '../document/SessionContext.tsx'

/** Frames whose time would put a body off if frames were taken for even. */
export function useFlags(): number[] {
  const investigation = useInvestigation()
  const { footage, bodies, timing } = investigation
  // biome-ignore lint/correctness/useExhaustiveDependencies: of the investigation only these decide the flags
  return useMemo(() => flaggedFrames(investigation), [footage, bodies, timing])
}
