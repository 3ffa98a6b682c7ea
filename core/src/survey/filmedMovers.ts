import type { Point, Similarity } from '../geometry/index.ts'
import { fixedSpots } from './fixedSpots.ts'
import type { SmallPicture } from './moverMask.ts'
import { findMovers, type Mover } from './movers.ts'
import { steadyPictures } from './steadyPictures.ts'

/** What moves in pictures as they were filmed, and fixed spots of the scene, each as where it is in every picture. */
interface FilmedMovers {
  movers: Mover[]
  spots: Point[][]
}

/**
 * Returns what moves in pictures, the most convincing first, and fixed spots of the scene if the camera moved: then it is looked for in
 * the pictures as a camera that stands still would have taken them. Nothing where the camera goes too far for that.
 *
 * @param motions the similarity that takes a point of the first picture to where it is in each; null if the camera stands still
 * @param pause awaited between steps
 */
export async function filmedMovers(
  pictures: readonly SmallPicture[],
  motions: readonly Similarity[] | null,
  pause?: () => Promise<void>,
): Promise<FilmedMovers> {
  if (!motions) return { movers: await findMovers(pictures, pause), spots: [] }
  const steady = await steadyPictures(pictures, motions, pause)
  if (!steady) return { movers: [], spots: [] }
  const found = await findMovers(steady.pictures, pause, true)
  return { movers: found.map((mover) => steady.asFilmed(mover)), spots: fixedSpots(steady, found) }
}
