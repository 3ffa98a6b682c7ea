import { edit, edits, type Investigation, newInvestigation } from '@apokinema/core/investigation'
import { readTruth } from './fill.ts'

/** The two ice blocks as they truly move, for tests. */

export const BLOCKS_TRUTH = readTruth('ice-blocks')
/** Ids of the large block and of the small one. */
export const BLOCK_IDS = ['b2000000-0000-4000-8000-000000000001', 'b2000000-0000-4000-8000-000000000002']

/**
 * Returns an investigation of the ice blocks, uncalibrated, with a mark at the true place.
 *
 * @param firsts the first frame in which each block is marked
 */
export function markedBlocks(names: string[], firsts: number[] = [0, 0]): Investigation {
  const { width, height, bodies } = BLOCKS_TRUTH
  return edit(newInvestigation('Ice blocks'), (draft) => {
    edits.setFootage({
      id: 'f2000000-0000-4000-8000-000000000001',
      name: 'ice-blocks.mp4',
      size: 1,
      width,
      height,
      rotation: 0,
      timeBase: { numerator: 1, denominator: 15360 },
      ticks: { first: 0, runs: [[512, 74]] },
      notedCaptureRate: null,
      converted: false,
    })(draft)
    BLOCK_IDS.forEach((id, i) => {
      const [position, velocity] = ['3', '4'].map((last) => `a2000000-0000-4000-8000-0000000000${i}${last}`)
      edits.addBody(id, { position, velocity }, names[i])(draft)
      for (const { frame, x, y } of bodies[i].frames.slice(firsts[i], 75))
        draft.bodies[id].marks[frame] = { x, y, by: 'hand' }
    })
  }).document
}
