import type { Investigation } from '@apokinema/core/investigation'
import type { Picture } from '@apokinema/words/report/shown'
import { chronoTask, makeChronophotograph, markedBodies } from '../../measure/chronophotograph.ts'

/** Returns a report's picture of all marked positions as PNG, or why there is none; null if nothing is marked. */
export async function reportChronophotograph(
  from: Blob | string,
  investigation: Investigation,
  { every, arrows, grid }: Omit<Extract<Picture, { of: 'chronophotograph' }>, 'of'>,
): Promise<Blob | string | null> {
  const bodies = markedBodies(investigation).map(([id]) => id)
  const task = chronoTask(investigation, { every, arrows, grid, bodies })
  return task && makeChronophotograph(from, task, () => {})
}
