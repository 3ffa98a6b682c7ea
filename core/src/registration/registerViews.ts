import type { Background } from '../following/index.ts'
import { distance, type Point, type Step, similarityStep } from '../geometry/index.ts'
import { FitError } from '../regression/index.ts'
import { consensusOf } from './consensus.ts'
import { cornersOf } from './corners.ts'
import { candidatesFor, HALF } from './matches.ts'
import { patchShift } from './patchShift.ts'
import { fitViewMotion, type PointMatch, type ViewMotion, viewError, viewStep } from './viewMotion.ts'

/**
 * Why two pictures are not taken to be the same view. size: they differ in size. notFound: too little in them tells where the camera looks, or
 * it looks elsewhere. ambiguous: two different motions explain them nearly as well. parts: parts of the picture moved differently, so the camera
 * changed its place or things were moved. anchorMoved: so did what is near a point that matters. uncertain: the motion is known too poorly.
 */
export const VIEW_TROUBLES = ['size', 'notFound', 'ambiguous', 'parts', 'anchorMoved', 'uncertain'] as const
export type ViewTrouble = (typeof VIEW_TROUBLES)[number]

/** How the view of one clip lies in that of another one. */
export type Registration =
  | {
      kind: 'same' | 'moved'
      motion: ViewMotion
      /** Farthest that a corner of the picture moved, in pixels. */
      farthest: number
      /** Largest standard error of a point of the picture, in pixels. */
      error: number
    }
  | { kind: 'other'; trouble: ViewTrouble }

/** Level of the pyramid at which corners are searched: a quarter of the size. */
const LEVEL = 2
/** Farthest that the picture's content is searched, as a share of its width. */
const REACH = 0.08
/** How far a corner is searched around where most corners go, in pixels of that size. */
const AROUND = 3
/** Least correlation of a candidate. */
const LEAST_SCORE = 0.7
/** Least correlation at full size at which a square counts as the same thing. */
const SAME_THING = 0.8
/** Corners that must agree: at least so many, and at least this share of those that were found in the first picture. */
const AGREEING = { count: 15, share: 0.3 }
/** Ambiguous if a different motion has this share of the agreeing corners. */
const AMBIGUOUS = 0.6
/** A square moved differently if it lies farther from where it is taken than this, in pixels and in standard errors. */
const DIFFERENTLY = { pixels: 0.6, errors: 5 }
/** Share of such squares at which no single motion is accepted. */
const PARTS = 0.12
/** What lies within this share of the picture's width is near a point that matters. */
const NEAR = 0.05
/** Share of these squares that moved differently at which the point is taken to have moved. */
const NEAR_PARTS = 0.4
/** Level of the pyramid at which an anchor itself is compared: its square is twice as large there as at full size. */
const ANCHOR_LEVEL = 1
/**
 * An anchor has moved if the picture around it is found elsewhere with this score, while it looks so much less like it where the motion
 * takes it. One that is found nowhere is hidden, or was taken away: then the rest of the picture tells.
 */
const ANCHOR = { found: 0.8, lessAlike: 0.25 }
/** Largest standard error that a point of the picture may have, in pixels. */
const LARGEST_ERROR = 0.5
/** A motion below this at all corners, in pixels, or below so many standard errors, is none. */
const NO_MOTION = { pixels: 0.15, errors: 3 }

/**
 * Returns how a camera moved between the backgrounds of two clips: a camera that stood still, or that turned or zoomed a little at its
 * place. Refuses everything else with a reason. Brightness and contrast may differ from place to place.
 *
 * @param from background of the clip whose set-up is known
 * @param anchors points of the first picture that must have moved as the rest did, such as the ends of a reference
 */
export function registerViews(
  from: Background,
  to: Background,
  anchors: readonly Point[] = [],
): Registration {
  const { width, height } = from.value[0]
  if (to.value[0].width !== width || to.value[0].height !== height) return { kind: 'other', trouble: 'size' }
  const corners = cornersOf(from.value[LEVEL], from.known[LEVEL], from.noise / 2 ** LEVEL, HALF)
  const reach = Math.round((REACH * width) / 2 ** LEVEL)
  const found = corners.map((corner) => ({
    corner,
    candidates: candidatesFor(from.value[LEVEL], corner, to.value[LEVEL], corner, reach, LEAST_SCORE),
  }))
  const consensus = consensusOf(found, from.value[LEVEL])
  const needed = Math.max(AGREEING.count, AGREEING.share * corners.length)
  if (!consensus || consensus.agreeing < needed) return { kind: 'other', trouble: 'notFound' }
  if (consensus.second > AMBIGUOUS * consensus.agreeing) return { kind: 'other', trouble: 'ambiguous' }

  const { a, b, x, y } = consensus.similarity
  const rough = similarityStep({ a, b, x: x * 2 ** LEVEL, y: y * 2 ** LEVEL })
  try {
    const centre = { x: width / 2, y: height / 2 }
    const first = matchesOf(corners, from, to, rough)
    if (first.length < AGREEING.count) return { kind: 'other', trouble: 'notFound' }
    // Once more with squares that are shaped as the motion that was found says.
    const matches = matchesOf(corners, from, to, viewStep(fitViewMotion(first, centre)))
    const verdict = verdictOn(matches, { width, height }, anchors)
    if (verdict.kind === 'other') return verdict
    const step = viewStep(verdict.motion)
    const isMoved = anchors.some((anchor) => isElsewhere(anchor, from, to, step.forward(anchor)))
    return isMoved ? { kind: 'other', trouble: 'anchorMoved' } : verdict
  } catch (error) {
    if (error instanceof FitError) return { kind: 'other', trouble: 'notFound' }
    throw error
  }
}

/** Returns where corners are in the other picture, each by itself within a few pixels of where the rough motion takes it. */
function matchesOf(corners: readonly Point[], from: Background, to: Background, rough: Step): PointMatch[] {
  const pictures = [whole(from), whole(to)] as const
  return corners.flatMap((corner) => {
    const at = scaled(corner, 2 ** LEVEL)
    const expected = rough.forward(at)
    const around = scaled(expected, 1 / 2 ** LEVEL)
    const [nearest] = candidatesFor(from.value[LEVEL], corner, to.value[LEVEL], around, AROUND, SAME_THING)
    if (!nearest) return []
    const place = scaled(nearest.at, 2 ** LEVEL)
    const found = patchShift(
      pictures,
      at,
      shifted(rough, { x: place.x - expected.x, y: place.y - expected.y }),
    )
    return found && found.score >= SAME_THING
      ? [{ from: at, to: found.at, covariance: found.covariance }]
      : []
  })
}

/** Returns a background at full size. */
const whole = ({ value: [value], known: [known] }: Background) => ({ value, known })

const scaled = ({ x, y }: Point, by: number): Point => ({ x: x * by, y: y * by })

const shifted = ({ forward, backward, jacobian }: Step, by: Point): Step => ({
  forward: (point) => {
    const { x, y } = forward(point)
    return { x: x + by.x, y: y + by.y }
  },
  backward: (point) => backward({ x: point.x - by.x, y: point.y - by.y }),
  jacobian,
})

function verdictOn(
  matches: readonly PointMatch[],
  { width, height }: { width: number; height: number },
  anchors: readonly Point[],
): Registration {
  if (matches.length < AGREEING.count) return { kind: 'other', trouble: 'notFound' }
  const centre = { x: width / 2, y: height / 2 }
  const edges = [0, width].flatMap((x) => [0, height].map((y) => ({ x, y })))
  const motion = fitViewMotion(matches, centre)
  const error = Math.max(...edges.map((corner) => viewError(motion, corner)))
  const step = viewStep(motion)
  const moved = matches.map((match) => movesDifferently(match, step))
  const nearAnchors = moved.filter((_, i) =>
    anchors.some((anchor) => distance(anchor, matches[i].from) < NEAR * width),
  )
  if (share(nearAnchors) >= NEAR_PARTS) return { kind: 'other', trouble: 'anchorMoved' }
  if (share(moved) > PARTS) return { kind: 'other', trouble: 'parts' }
  if (!(error <= LARGEST_ERROR)) return { kind: 'other', trouble: 'uncertain' }
  const farthest = Math.max(...edges.map((corner) => distance(step.forward(corner), corner)))
  const isSame = farthest <= Math.max(NO_MOTION.pixels, NO_MOTION.errors * error)
  return { kind: isSame ? 'same' : 'moved', motion, farthest, error }
}

/** Returns true if the picture around an anchor is not where the motion takes it, but somewhere else. */
function isElsewhere(anchor: Point, from: Background, to: Background, expected: Point): boolean {
  const [picture, other] = [from.value[ANCHOR_LEVEL], to.value[ANCHOR_LEVEL]]
  const at = scaled(anchor, 1 / 2 ** ANCHOR_LEVEL)
  const isWhole =
    at.x > HALF && at.y > HALF && at.x < picture.width - HALF - 1 && at.y < picture.height - HALF - 1
  if (!isWhole) return false
  const around = scaled(expected, 1 / 2 ** ANCHOR_LEVEL)
  const reach = Math.round(REACH * picture.width)
  const [best] = candidatesFor(picture, at, other, around, reach, ANCHOR.found)
  if (!best) return false
  const [there] = candidatesFor(picture, at, other, around, 1, 0)
  return best.score - (there?.score ?? 0) > ANCHOR.lessAlike
}

const share = (flags: readonly boolean[]) =>
  flags.length === 0 ? 0 : flags.filter(Boolean).length / flags.length

/** Returns true if a match lies too far from where a motion takes it, for its error. */
function movesDifferently({ from, to, covariance }: PointMatch, { forward }: Step): boolean {
  const away = distance(forward(from), to)
  const error = Math.sqrt((covariance[0][0] + covariance[1][1]) / 2)
  return away > Math.max(DIFFERENTLY.pixels, DIFFERENTLY.errors * error)
}
