import { distance, type Point } from '../geometry/index.ts'
import type { BodySilhouette } from './bodySilhouette.ts'
import { AGAIN, type BodyTrack } from './bodyTrack.ts'
import { NEARER, RIVAL } from './finder.ts'
import { type Grid, type Plane, partAround } from './grid.ts'
import { isTaken } from './others.ts'
import type { Prediction } from './predict.ts'
import { type Before, type Decision, type FollowSettings, hiddenAt, type Where } from './sighting.ts'
import type { Fitted } from './silhouette.ts'
import type { SilhouetteMatcher } from './silhouetteMatcher.ts'

/** A template that scores less than this share of the typical one may be of something that turns. */
const UNSURE = 0.8
/**
 * A template that is farther than this, in pixels and in radii, from where the whole shape is has found something else, where
 * the shape is so much nearer to the prediction, or scores so much better, or better
 * at all as long as there is no prediction.
 */
const ELSEWHERE = { pixels: 1.5, radii: 0.15, nearer: 0.5, better: 0.15 }
/**
 * A shape that scores less than this share of the typical score is hidden in part, and must lie within so many deviations, or
 * radii. An elongated one, and any before it was found in a second frame, has less, and one within an error of where it is
 * expected; where it comes out again it has more.
 */
export const PARTLY = { score: 0.92, expected: 0.9, unsure: 0.85, again: 0.97, near: 1.5, radii: 0.1 }
/** A weak silhouette is accepted up to so many failed searches, and from such a score on before there is a prediction. */
const WEAK = { misses: 2, score: 0.75 }
/**
 * Largest error of the predicted place, in pixels and in radii of the body, at which a partly visible body is marked: something hides a
 * part of it, or what is behind it looks alike.
 */
const CUT_ERROR = { pixels: 2, radii: 0.3 }
/** A body that has moved by less than this, in pixels a frame, may have become a part of the background. */
const RESTS = 0.3
/** Angle in radians between a body and its way beyond which it is no streak. */
const STREAK_CROSSING = 0.25

/** Finds a body by its silhouette against a known background, alone or compared with its template. */
export class SilhouetteSightings {
  /** @param learnSmear is told how the body lay before, once its silhouette is accepted */
  constructor(
    private readonly track: BodyTrack,
    private readonly shape: BodySilhouette,
    private readonly settings: () => FollowSettings,
    private readonly learnSmear: (before: Before) => void,
  ) {}

  /** Returns what the silhouette says of what was found by the template: the same, something better, or that it is background. */
  compared(silhouette: SilhouetteMatcher, byTemplate: Decision, where: Where): Decision {
    const { plane, predicted } = where
    const { sighting } = byTemplate
    const { radius } = silhouette.shape
    const hidden = hiddenAt(predicted)
    const near = sighting.kind === 'found' ? partAround(plane, sighting.at, this.track.extent() + 10) : plane
    const difference = silhouette.differenceOf(near, where.gain)
    let found = sighting.kind === 'found' ? sighting : null
    if (found && silhouette.isBackground(difference, found.at, this.track.stepLength > RESTS)) found = null
    if (silhouette.quality === 'none') return found || sighting.kind !== 'found' ? byTemplate : hidden
    if (found && found.certainty > UNSURE) {
      // Of two places the one on the predicted path is the body's, if its shape is there.
      const isOffCourse = distance(found.at, predicted) > AGAIN.near * predicted.error + ELSEWHERE.pixels
      if (silhouette.quality === 'weak')
        return (isOffCourse && this.byShapeAlone(silhouette, where)) || byTemplate
      const around = { at: found.at, reach: 2 + 0.3 * radius, isPredicted: true }
      const fit = this.fit(silhouette, difference, where, around)
      const off = fit ? distance(fit, found.at) : 0
      const isWhole = fit !== null && silhouette.certaintyOf(fit) > PARTLY.score
      const isExpected =
        fit !== null &&
        (fit.score > (byTemplate.score ?? 1) + (Number.isFinite(predicted.error) ? ELSEWHERE.better : 0) ||
          (Number.isFinite(predicted.error) &&
            distance(fit, predicted) < ELSEWHERE.nearer * distance(found.at, predicted)))
      const isApart = off > Math.max(ELSEWHERE.pixels, ELSEWHERE.radii * radius)
      const isElsewhere = isWhole && isExpected && isApart
      // Nothing like the body's shape is there, and much of it lies where the body is expected.
      const byShape = !isWhole && isOffCourse ? this.byShapeAlone(silhouette, where) : null
      if (byShape) return byShape
      const { turn } = this.track.pose
      if (fit && isWhole && !isApart) silhouette.renewCover(difference, fit)
      this.shape.judge(isElsewhere ? null : found.at, fit, turn, this.settings().placedBy)
      if (fit && isWhole && !isApart && this.shape.canAlign(silhouette, turn))
        silhouette.alignTo(found.at, fit)
      return fit && (this.shape.byOutline || isElsewhere)
        ? this.byFit(silhouette, difference, fit, where)
        : byTemplate
    }
    if (sighting.kind === 'left') return byTemplate
    const byShape = this.byShapeAlone(silhouette, where)
    return byShape ?? (found || sighting.kind === 'two' ? byTemplate : hidden)
  }

  /** Returns where the silhouette finds the body, of which the template said nothing or something else; null if it does not. */
  private byShapeAlone(silhouette: SilhouetteMatcher, where: Where): Decision | null {
    const decision = this.fitted(silhouette, where)
    if (decision.sighting.kind !== 'found') return null
    this.shape.judge(
      null,
      { ...decision.sighting.at, score: 0 },
      this.track.pose.turn,
      this.settings().placedBy,
    )
    return decision
  }

  /** Finds the body by its silhouette within the whole reach. */
  fitted(silhouette: SilhouetteMatcher, where: Where): Decision {
    const { predicted, radius, others } = where
    const hidden = hiddenAt(predicted)
    const { difference, fit } = this.fittedNear(silhouette, where) ?? this.fittedWithin(silhouette, where)
    if (!fit || isTaken(fit, predicted, others)) return hidden
    const off = distance(fit, predicted)
    const isAgain = this.track.misses > 0 && !this.shape.byOutline
    // Where exactly the body is expected less of it is enough.
    const isThere =
      off < predicted.error && Number.isFinite(predicted.error) && this.track.misses <= WEAK.misses
    const typical = isAgain && !isThere ? PARTLY.again : isThere ? PARTLY.expected : PARTLY.score
    const whole = silhouette.isElongated || !silhouette.isProven ? PARTLY.unsure : typical
    const isPartly = silhouette.certaintyOf(fit) < whole
    // A weak one is accepted only with a recent prediction, or if it fits well before there is one.
    const isNew = !Number.isFinite(predicted.error) && fit.score > WEAK.score
    const isOnCourse = Number.isFinite(predicted.error) && this.track.misses <= WEAK.misses
    if (silhouette.quality === 'weak' && !isNew && !isOnCourse) return hidden
    // Of what is followed by its template a part of the shape may be hidden, or something else is there.
    if (
      !this.shape.byOutline &&
      (isPartly || (Number.isFinite(predicted.error) && off > AGAIN.near * predicted.error))
    )
      return hidden
    if (isPartly && off > Math.max(PARTLY.near * predicted.error, PARTLY.radii * silhouette.shape.radius))
      return hidden
    const smear = this.track.smearAt(predicted)
    const isCut = silhouette.isCut(difference, fit, smear, this.track.misses > 0)
    // Nothing is learned from such a sighting, so the predicted place gets too uncertain after a frame or two.
    const isAsExpected =
      this.track.misses === 0 &&
      isThere &&
      predicted.error < Math.min(CUT_ERROR.pixels, CUT_ERROR.radii * silhouette.shape.radius)
    if (isCut && !isAsExpected) return hidden
    if (
      this.track.misses > 0 &&
      off > AGAIN.near * predicted.error &&
      !this.track.isSudden(fit, predicted, radius)
    )
      return hidden
    const { rival } = fit
    if (rival && rival.score > fit.score - RIVAL && !isTaken(rival, predicted, others)) {
      const apart = (distance(rival, predicted) - off) / predicted.error
      if (apart < NEARER)
        return { sighting: { kind: 'two', at: fit, places: [fit, { x: rival.x, y: rival.y }] }, accept: null }
    }
    if (this.track.isOutside(fit, 0)) return { sighting: { kind: 'left', at: fit }, accept: null }
    const decision = this.byFit(silhouette, difference, fit, where)
    return isCut ? { ...decision, accept: null } : decision
  }

  /**
   * Returns a typical fit close to the expected place, if that is known so well that no rival could be as near to it; null if there
   * is none. Much less of the frame has to be looked at for it.
   */
  private fittedNear(silhouette: SilhouetteMatcher, where: Where): { difference: Grid; fit: Fitted } | null {
    const { plane, predicted, gain } = where
    const reach = NEARER * predicted.error
    // Of an elongated one the turn has to be found as well.
    if (silhouette.isElongated || !(reach < silhouette.shape.radius)) return null
    const difference = silhouette.differenceOf(
      partAround(plane, predicted, this.track.extent() + reach + 10),
      gain,
    )
    const fit = this.fit(silhouette, difference, where, { at: predicted, reach, isPredicted: true })
    return fit && silhouette.certaintyOf(fit) > PARTLY.score ? { difference, fit } : null
  }

  /** The best fit within the whole reach. */
  private fittedWithin(
    silhouette: SilhouetteMatcher,
    where: Where,
  ): { difference: Grid; fit: Fitted | null } {
    const { plane, predicted, radius, gain } = where
    const difference = silhouette.differenceOf(plane, gain)
    return {
      difference,
      fit: this.fit(silhouette, difference, where, { at: predicted, reach: radius, isPredicted: false }),
    }
  }

  /** Where the silhouette fits, as the place of the body's point; null where it does not. */
  private fit(
    silhouette: SilhouetteMatcher,
    difference: Grid,
    { predicted, time }: Where,
    { at, reach, isPredicted }: { at: Point; reach: number; isPredicted: boolean },
  ): Fitted | null {
    const smear = this.track.smearAt(predicted)
    return silhouette.find(difference, { at, error: predicted.error, reach, smear, time, isPredicted })
  }

  private byFit(
    silhouette: SilhouetteMatcher,
    difference: Grid,
    fit: Fitted,
    { predicted, time }: Where,
  ): Decision {
    const { x, y, scale } = fit
    return {
      sighting: {
        kind: 'found',
        at: { x, y },
        by: predicted.by,
        byOutline: true,
        // Of a weak one what is typical is no sure sign, either.
        certainty: silhouette.certaintyOf(fit) * (silhouette.quality === 'weak' ? fit.score : 1),
        pose: { ...this.track.pose, scale },
      },
      accept: (before) => {
        silhouette.accept(difference, fit, time)
        this.learnSmear(before)
      },
    }
  }

  /** Whether a silhouette finds the whole of the body where it is shown. */
  isWholeAt(
    silhouette: SilhouetteMatcher,
    { plane, at, time, predicted }: { plane: Plane; at: Point; time: number; predicted: Prediction },
  ): boolean {
    const reach = 2 + 0.5 * silhouette.shape.radius
    const difference = silhouette.differenceOf(plane, silhouette.gainOf(plane))
    const search = { at, error: reach, reach, smear: this.track.smearAt(predicted), time, isPredicted: false }
    const fit = silhouette.find(difference, search)
    return fit !== null && silhouette.certaintyOf(fit) > PARTLY.again
  }

  /** Returns true if the shape that was taken for a streak crosses the direction of motion, as no streak does. */
  liesAcross(where: Where): boolean {
    const silhouette = this.shape.solidMatcher
    if (!silhouette) return false
    const fit = this.fittedWithin(silhouette, where).fit
    const { x, y } = where.predicted.velocity
    const crossing =
      fit && silhouette.shape.axis !== null ? silhouette.shape.axis + fit.turn - Math.atan2(y, x) : 0
    return Math.abs(crossing - Math.PI * Math.round(crossing / Math.PI)) > STREAK_CROSSING
  }
}
