import { type Investigation, pictureSize } from '@apokinema/core/investigation'
import { type AlignedMotion, atInstants, pictureStep } from '@apokinema/core/series'
import { footageSource } from '../footage/footageSource.ts'
import { makeChronophotograph, reachOf, stillFramesOf } from '../workbench/measure/chronophotograph.ts'

/** A still with the bodies of several trials, and the ids of trials that could not be put into it. */
export interface TrialStill {
  blob: Blob
  without: string[]
}

/** About so many instants are shown at first. */
const INSTANTS = 10

/** Returns a round step in seconds that divides the longest motion into about ten. */
export function stepFor(motions: readonly AlignedMotion[]): number {
  const longest = Math.max(...motions.map(({ points }) => points[points.length - 1].x - points[0].x))
  return Number((longest / INSTANTS || 1).toPrecision(1))
}

/**
 * Makes one still of the motions of several trials, at the same instants since the moment at which they are aligned. It shows what the
 * pattern's clip shows; of the other ones the body is copied to its place in that picture. Returns a message if that fails.
 *
 * @param step seconds between two instants
 */
export async function trialChronophotograph(
  motions: readonly AlignedMotion[],
  pattern: Investigation,
  step: number,
  onProgress: (share: number) => void,
): Promise<TrialStill | string> {
  const picture = pictureSize(pattern)
  let made: Blob | null = null
  const without: string[] = []
  for (const [i, { trial, drawn, points }] of inSight(motions, pattern).entries()) {
    const document = trial.document!
    const place = document === pattern ? null : pictureStep(document, pattern)
    const { footage, orientation, bodies } = document
    const body = bodies[drawn.body]
    if (!footage || !body || (document !== pattern && !place)) {
      without.push(trial.id)
      continue
    }
    const cuts = atInstants(points, step).flatMap(({ frame }) => {
      const mark = body.marks[frame]
      if (!mark) return []
      const from = { x: mark.x, y: mark.y }
      return [{ frame, from, to: place ? place.forward(from) : from }]
    })
    const task = {
      orientation,
      picture,
      still: stillFramesOf(document),
      base: cuts[0]?.frame ?? 0,
      cuts,
      radius: reachOf(body, picture),
      lines: [],
      words: [],
      wordSize: 0,
      onto: made,
    }
    const laid: Blob | string = await makeChronophotograph(
      await footageSource(trial.id, footage.id),
      task,
      (share) => onProgress((i + share) / motions.length),
    )
    if (typeof laid === 'string') return laid
    made = laid
  }
  return made ? { blob: made, without } : 'None of these trials shows the same view.'
}

/** Returns motions with the pattern's first: the still shows what stands still in its clip. */
function inSight(motions: readonly AlignedMotion[], pattern: Investigation): AlignedMotion[] {
  const isPattern = ({ trial }: AlignedMotion) => trial.document === pattern
  return [...motions.filter(isPattern), ...motions.filter((one) => !isPattern(one))]
}
