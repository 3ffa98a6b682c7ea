import type { Point } from '../geometry/index.ts'
import { type Candidate, climbPatch, searchPatch } from './match.ts'
import { renderPatch } from './patch.ts'
import type { Prediction } from './predict.ts'
import { type Freedom, type Refined, refinePose } from './refine.ts'
import type { Scene } from './scene.ts'
import { type Pose, smearBetween, type Template, turned } from './template.ts'

/** Search for a body in a frame. Lengths are in pixels of the pyramid level of its template. */
export interface Search {
  /** Where and how it is expected. */
  expected: Pose
  /** The same in the frame's own pixels, with how sure that is. */
  predicted: Prediction
  /** The frame's own pixels that each of the template's has. */
  by: number
  reach: number
  /** How far it is smeared. */
  smear: Point
  /** Standard deviation of the frame's noise. */
  noise: number
  /** Score that it usually has (NaN before the first), and the least that is taken for it. */
  typical: number
  needed: number
  freedom: Freedom
  /** Whether a place is that of another body. */
  isTaken: (place: Point) => boolean
}

/** The best match of a body in a frame. */
export interface Found {
  refined: Refined
  /** Score, less what lying off the prediction costs. */
  worth: number
  /** Score of the whole, or of the part that is not hidden. */
  strength: number
  /** Another place that it could be as well. */
  rival: Point | null
}

/** Number of standard deviations of the prediction by which one of two rivals must be nearer to be chosen. */
export const NEARER = 4
/** A second place that scores this much less than the best is no rival. */
export const RIVAL = 0.12
/** What a place costs, in score, that is off the prediction: by square of its distance in deviations, up to a limit. */
const COST = { each: 0.004, most: 0.12 }

/** Returns a score minus the cost of its distance from the prediction, in standard deviations of the prediction. */
export function worthOf(score: number, place: Point, expected: Point, deviation: number): number {
  const off = (place.x - expected.x) ** 2 + (place.y - expected.y) ** 2
  return score - Math.min(COST.most, (COST.each * off) / deviation ** 2)
}
/** Share of the typical score that is as good as what is expected. */
const SETTLES = 0.9
/** Least share of a body that is seen where a part of it is enough, and what the part's score counts for. */
const PART = { least: 0.55, counts: 0.92 }
/** Least score of the part around the body's point, to hold it by. */
const FINE = 0.6

/**
 * Finds a body by its template: correlation from coarse to fine, near the prediction first, then refinement.
 *
 * @param scenes the frame from the size that the template is kept in on, each at half the size of the one before
 */
export function findTemplate(scenes: Scene[], template: Template, search: Search): Found | null {
  const { expected, predicted, reach, by: scale, noise, typical, needed, freedom, isTaken } = search
  const smear = smearBetween(turned(template.smear, expected.turn), search.smear)
  const patch = renderPatch(template, expected, smear, scenes[0].known !== null)
  const deviation = Math.max(
    0.7,
    (Number.isFinite(predicted.error) ? predicted.error : reach * scale) / scale,
  )
  // A good fit where it is expected settles it: what lies much farther off could not be the one.
  const near = Math.min(reach, 3 + (NEARER + 2) * deviation)
  const placeOf = ({ column, row, score }: Candidate) => ({
    x: column + patch.anchor.x,
    y: row + patch.anchor.y,
    score,
  })
  const refinedAt = ({ x, y }: Point) =>
    refinePose(scenes[0], patch, { ...expected, x, y }, freedom, noise / scale)
  const placesWithin = (radius: number) =>
    searchPatch(scenes, patch, expected, radius, noise / scale)
      .map(placeOf)
      .filter((place) => !isTaken(place))
  const nearby = placesWithin(near)
  const refinedNear = nearby.length > 0 ? refinedAt(nearby[0]) : null
  const isSettled = near >= reach || (refinedNear !== null && refinedNear.score > SETTLES * typical)
  const places = isSettled ? nearby : placesWithin(reach)
  const worthFromAfar = (place: Point & { score: number }) => worthOf(place.score, place, expected, deviation)
  const ranked = [...places].sort((a, b) => worthFromAfar(b) - worthFromAfar(a))
  // What correlates best from afar may be nothing when it is seen closely, and a body that goes on as it went is where it
  // is expected, though something else correlates as well from afar.
  const tried = [...ranked, ...nearby.slice(0, 1)]
  if (!isTaken(expected)) tried.unshift(placeOf(climbPatch(scenes[0], patch, expected, noise / scale)))
  const offOf = ({ x, y }: Point) => Math.hypot(x - expected.x, y - expected.y) / deviation
  /** Returns where it is expected a part of it is enough: something passes in front of it, or close by. */
  const strengthOf = ({ score, visible, pose }: Refined) => {
    const isPart = visible.share > PART.least && offOf(pose) < NEARER
    return Math.max(score, isPart ? PART.counts * visible.score : 0)
  }
  let best: { place: Point & { score: number }; refined: Refined; worth: number } | null = null
  for (const place of tried) {
    const refined = place === nearby[0] ? refinedNear : refinedAt(place)
    if (!refined) continue
    const worth = worthOf(strengthOf(refined), refined.pose, expected, deviation)
    if (!best || worth > best.worth) best = { place, refined, worth }
    if (best.worth > Math.max(needed, SETTLES * (Number.isNaN(typical) ? 1 : typical))) break
  }
  if (!best) return null
  const { place: first, refined } = best
  const apart = Math.max(4, 0.5 * Math.min(...patch.size))
  const rival = ranked.find(
    ({ x, y, score }) =>
      Math.hypot(x - first.x, y - first.y) > apart && score > needed && score > first.score - RIVAL,
  )
  const isRival = rival !== undefined && offOf(rival) - offOf(first) < NEARER
  return {
    refined,
    worth: best.worth,
    strength: strengthOf(refined),
    rival: isRival ? { x: rival.x, y: rival.y } : null,
  }
}

/**
 * Returns the refined position of the body's point, near where the whole body was found; null if it does not match.
 */
export function findPoint(
  scene: Scene,
  template: Template,
  { whole, noise, freedom, smear: seen }: Pick<Search, 'noise' | 'freedom' | 'smear'> & { whole: Pose },
): (Point & { score: number }) | null {
  const smear = smearBetween(turned(template.smear, whole.turn), seen)
  const patch = renderPatch(template, whole, smear, scene.known !== null)
  const best = climbPatch(scene, patch, whole, noise)
  const start = { ...whole, x: best.column + patch.anchor.x, y: best.row + patch.anchor.y }
  const fine = refinePose(scene, patch, start, freedom, noise)
  return fine && fine.score > FINE ? { x: fine.pose.x, y: fine.pose.y, score: fine.score } : null
}
