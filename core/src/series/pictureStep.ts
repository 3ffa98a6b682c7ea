import { fitSimilarity, type Point, type Step, similarityStep } from '../geometry/index.ts'
import type { Investigation } from '../investigation/index.ts'

/**
 * Returns the step from the picture of one trial to that of another one that shares its calibration: the similarity of least squares
 * through what marks the scale in both. Null if they share none, or it is in one point.
 */
export function pictureStep(from: Investigation, to: Investigation): Step | null {
  const pairs: [Point, Point][] = Object.entries(from.references).flatMap(([id, { ends }]) => {
    const others = to.references[id]?.ends
    return others ? ends.map((end, i): [Point, Point] => [end, others[i]]) : []
  })
  if (from.plane && to.plane)
    for (const [i, corner] of from.plane.corners.entries()) pairs.push([corner, to.plane.corners[i]])
  const similarity = fitSimilarity(
    pairs.map(([one]) => one),
    pairs.map(([, other]) => other),
    'tilted',
  )
  return similarity && similarityStep(similarity)
}
