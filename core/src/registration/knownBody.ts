import { type Grid, pyramid } from '../following/index.ts'
import { distance, type Point } from '../geometry/index.ts'
import { type Candidate, candidatesFor, HALF } from './matches.ts'

/** A body as it is marked in a frame of one clip. */
export interface BodyTemplate {
  picture: Grid
  at: Point
}

/** Where a body was found in a frame of another clip. */
export interface BodySighting extends Point {
  frame: number
  /** Zero-mean normalised cross-correlation with the template by which it was found. */
  score: number
}

/** Least score of a sighting, and by how much it must be more than that of any other place. */
const LEAST = 0.8
const DISTINCT = 0.1
/** Score from which other places are compared, and pixels between the places that are. */
const COMPARED = 0.5
const STEP = 2
/** Sightings that are needed. */
const FEWEST = 3
/** Score of a place in the full picture, of which the middle of the body alone is compared. */
const LEAST_FINE = 0.5

/**
 * Returns where a body that was marked in one clip is seen in frames of another one; empty if it is not found in three at least, or if it
 * does not move there: then it may be part of the background.
 *
 * @param radius of the body in pixels; the square that is compared reaches about as far
 */
export function sightingsOfKnown(
  templates: readonly BodyTemplate[],
  frames: readonly { frame: number; picture: Grid }[],
  radius: number,
): BodySighting[] {
  const level = Math.max(0, Math.round(Math.log2(radius / HALF)))
  const small = templates.map(({ picture, at }) => ({
    picture: reduced(picture, level),
    at: scaled(at, level),
  }))
  const sightings: BodySighting[] = []
  for (const [searched, { frame, picture }] of frames.entries()) {
    // Searching a whole picture takes its time: a body that turns, or looks otherwise here, is given up early.
    if (searched === FEWEST && sightings.length === 0) return []
    const other = reduced(picture, level)
    for (const [i, template] of small.entries()) {
      const [best, ...others] = candidatesIn(template, other)
      if (!best || best.score < LEAST || others.some(({ score }) => best.score - score < DISTINCT)) continue
      const at = refined(templates[i], picture, scaled(best.at, -level), level)
      if (!at) continue
      sightings.push({ frame, ...at, score: best.score })
      break
    }
  }
  const moves = sightings.some((one) => sightings.some((other) => distance(one, other) > radius))
  return sightings.length >= FEWEST && moves ? sightings : []
}

const reduced = (picture: Grid, level: number): Grid => pyramid(picture, level + 1)[level]

const scaled = ({ x, y }: Point, level: number): Point => ({ x: x / 2 ** level, y: y / 2 ** level })

/** Returns the places of a whole picture that look like a template, best first. */
function candidatesIn({ picture, at }: BodyTemplate, other: Grid): Candidate[] {
  const isWhole =
    at.x >= HALF + 1 &&
    at.y >= HALF + 1 &&
    at.x < picture.width - HALF - 1 &&
    at.y < picture.height - HALF - 1
  if (!isWhole) return []
  const middle = { x: other.width / 2, y: other.height / 2 }
  return candidatesFor(picture, at, other, middle, Math.max(other.width, other.height), COMPARED, STEP)
}

/** Returns the place in the full picture near one that was found in a reduced one; null if nothing looks like it there. */
function refined({ picture, at }: BodyTemplate, other: Grid, near: Point, level: number): Point | null {
  const [best] = candidatesFor(picture, at, other, near, 2 ** level + 1, LEAST_FINE)
  // Squares are cut at whole pixels: the mark lies somewhere within its own.
  return best
    ? { x: best.at.x + at.x - Math.floor(at.x) - 0.5, y: best.at.y + at.y - Math.floor(at.y) - 0.5 }
    : null
}
