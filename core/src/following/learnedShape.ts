import type { Point } from '../geometry/index.ts'
import type { Background } from './background.ts'
import { coverageOf, type Inside, insideOf } from './coverage.ts'
import { differenceFrom, differencesAt, gainOf } from './difference.ts'
import type { Grid, Plane } from './grid.ts'
import type { Outline } from './outline.ts'
import { reducedTo, type Shape, shapeCovered, shapeOf } from './shape.ts'
import { closedFor, type Fitted, findShape } from './silhouette.ts'

/**
 * Scores of the shape's fit in the frame in which it is learned. From `full` on it is as good a witness of the place as
 * the template; from `weak` on it serves where the template fails; from `sure` on no other place is looked at. `growth` is
 * the most change of the logarithm of its size there.
 */
export const LEARNED = { sure: 0.95, full: 0.82, weak: 0.55, growth: 0.2 }
/** Share of what is typical of a body from which on a pixel differs clearly from the background. */
export const FAINT = 0.25
/** Shadows are ignored if that makes the first fit better by this much. */
const WITHOUT_SHADOW = 0.03
/** An outline that scores less than `score` gives way to the shape of what is covered, if that scores better by so much. */
const BY_OUTLINE = { score: 0.9, better: 0.05 }
/** A body whose brightness differs from the background by less than this share of how much it differs at all is told by its colour. */
const BY_COLOUR = 0.6

export const STILL: Point = { x: 0, y: 0 }

/** Returns the length of a way in pixels of a shape. */
export const lengthAt = ({ x, y }: Point, { level }: Shape) => Math.hypot(x, y) / 2 ** level

/** Where a shape fits, without other places where it might. */
type Place = Omit<Fitted, 'rival'>

/** A body's shape against a known background, and how it fits in the frame in which it was learned. */
export interface LearnedShape {
  shape: Shape
  place: Place
  inside: Inside
  /** Share of the shape that differs clearly from the background. */
  cover: number
  ignoresShadows: boolean
  /** Whether its colour tells the body from what is behind it better than its brightness does. */
  isByColour: boolean
}

/**
 * Learns the shape of a body from a frame: its outline, or what differs from the background within it, if that fits better.
 *
 * @param template growth and turn of the body since its outline was drawn
 * @param streak where the body is taken for a streak: the smear that its outline was drawn without, and the streak's length
 * @returns null if the background behind the body is not known
 */
export function learnShape(
  plane: Plane,
  at: Point,
  outline: Outline,
  background: Background,
  template: { scale: number; turn: number },
  streak?: { smear: Point; length: number },
): LearnedShape | null {
  const outlined = shapeOf(outline)
  const gain = gainOf(plane, background)
  const search = {
    ...template,
    growth: LEARNED.growth,
    at,
    error: 2,
    reach: 2 + 0.5 * outlined.radius,
    smear: streak?.smear ?? STILL,
  }
  const length = (streak?.length ?? 0) / 2 ** outlined.level
  const learned = (whole: Grid, ignoresShadows: boolean) => {
    const difference = reducedTo(outlined, whole)
    const fitWith = (shape: Shape, least: number, settles: number): Place =>
      findShape(coverageOf(difference, least, length), shape, { ...search, settles }) ?? {
        ...at,
        ...template,
        score: 0,
      }
    // Once it is known how much the body differs, what differs far less is left out.
    const { contrast } = insideOf(difference, outlined, fitWith(outlined, 0, LEARNED.weak))
    let [shape, place] = [outlined, fitWith(outlined, contrast || 0, LEARNED.sure)]
    // What is long may be a streak, whose shape does not turn with the body.
    if (place.score < BY_OUTLINE.score && !streak && outlined.axis === null) {
      const covered = closedFor(coverageOf(difference, contrast || 0), outlined)
      const other = shapeCovered(covered, outline, outlined, { ...at, ...template })
      const fit = other && fitWith(other, contrast || 0, LEARNED.sure)
      const isRound = other?.axis === null
      if (fit && isRound && fit.score > place.score + BY_OUTLINE.better) [shape, place] = [other, fit]
    }
    return { shape, place, whole, ignoresShadows, inside: insideOf(difference, shape, place) }
  }
  const differences = differencesAt(plane, background, gain, at, 0.8 * outlined.radius)
  const plain = learned(differences.plain, false)
  const canBeBetter = plain.place.score + WITHOUT_SHADOW < 1
  const shadowless = canBeBetter && differences.shadowless ? learned(differences.shadowless, true) : null
  const isBetter = shadowless && shadowless.place.score > plain.place.score + WITHOUT_SHADOW
  const { whole, ...best } = isBetter ? shadowless : plain
  const { shape, place, inside } = best
  if (Number.isNaN(inside.share)) return null
  const { chroma, ...bright } = plane
  const brightness = differenceFrom(bright, background, { gain, ignoresShadows: false })
  const light = insideOf(reducedTo(shape, brightness), shape, place)
  return {
    ...best,
    cover: insideOf(reducedTo(shape, whole), shape, place, FAINT * inside.contrast).share,
    isByColour: light.contrast < BY_COLOUR * inside.contrast,
  }
}
