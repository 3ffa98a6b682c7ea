import { distance, type Point } from '../geometry/index.ts'
import type { Background } from './background.ts'
import { type BodyColour, colourWithin, isOtherColour, renewedColour } from './bodyColour.ts'
import { BodySilhouette, type Seen } from './bodySilhouette.ts'
import { NEARER, RIVAL } from './finder.ts'
import { type Grid, overlap, type Plane, partAround, type Rect, rectAround } from './grid.ts'
import { withArena } from './kernels.ts'
import { isTaken, type Other, WIDENED } from './others.ts'
import type { Outline } from './outline.ts'
import { type Prediction, type PredictionName, Predictor } from './predict.ts'
import { sceneBytes } from './scene.ts'
import type { Fitted } from './silhouette.ts'
import type { SilhouetteMatcher } from './silhouetteMatcher.ts'
import { type Pose, templateReach } from './template.ts'
import { type Change, TemplateMatcher } from './templateMatcher.ts'

/** How a body is followed. */
export interface FollowSettings {
  /** 0: stop early, at the least doubt; 1: carry on as long as there is anything to go by. */
  persistence: number
  change: Change
  /**
   * What tells the place: the body's outline against a known background, or the template around its point, which turns with
   * the body. Without it whichever proves the better witness.
   */
  placedBy?: 'outline' | 'template'
}

/** What a frame shows of a body that is followed. */
export type Sighting =
  | {
      kind: 'found'
      at: Point
      /** 0 … 1: how much of what is there the template explains, against what it usually does. */
      certainty: number
      pose: Pose
      by: PredictionName
      /** Whether the place is that of the outline, since the pattern within it turns or changes. */
      byOutline: boolean
    }
  /** Nothing there looks like it: it is hidden, or gone. */
  | { kind: 'hidden'; at: Point }
  /** Two places look like it, and its motion does not tell which is meant. */
  | { kind: 'two'; at: Point; places: Point[] }
  /** After it was out of sight for long something that looks like it is elsewhere than it should be. */
  | { kind: 'elsewhere'; at: Point; places: Point[] }
  /** Where it must be now is outside the picture. */
  | { kind: 'left'; at: Point }

/** Where a body is looked for in a frame. */
export interface Reach {
  /** Expected place in pixels. */
  at: Point
  /** How far around it, in pixels. */
  radius: number
  /** The part of the frame that is needed for it. */
  rect: Rect
  by: PredictionName
}

/** Whatever follows one body through frames, one after the other. */
export interface Following {
  reach(time: number): Reach
  widen(): void
  see(plane: Plane, time: number, others?: readonly Other[]): Sighting
  /** Where the body was last seen, and how large it is: what others keep out of. */
  place(): Other
  show(plane: Plane, time: number, at: Point): void
  showReach(at: Point): Rect
}

/** A new body is looked for within so many of its own radii, and at least so many pixels. */
const FIRST_REACH = { radii: 2.5, pixels: 40 }
/** Share of the usual score that a place must have, for the least and the most persistence. */
const NEEDED = { early: 0.88, late: 0.6 }
/** No score below this is ever a sighting. */
const LOWEST = 0.4
/** Before it was found for the first time, and after it was missed before that. */
const FIRST = { score: 0.68, missed: 0.95 }
/** Times farther than usual that is looked at most. */
const WIDEST = 3
/**
 * A body that was out of sight can turn up again within so many deviations from where it is expected, or after so
 * few looks in vain as it takes to be knocked away within so many of its half widths and last steps, with this share of its
 * usual score.
 */
const AGAIN = { near: 3, soon: 4, sizes: 3, steps: 3, score: 0.85 }
/** A template that scores less than this share of the usual one may be of something that turns. */
const UNSURE = 0.8
/**
 * A template that is farther than this, in pixels and in radii, from where the whole shape is has found something else, where
 * the shape is so much nearer to the prediction, or scores so much better, or better
 * at all as long as there is no prediction.
 */
const ELSEWHERE = { pixels: 1.5, radii: 0.15, nearer: 0.5, better: 0.15 }
/**
 * A shape that scores less than this share of the usual score is hidden in part, and must lie within so many deviations, or
 * radii. An elongated one, and any before it was found in a second frame, has less, and one within an error of where it is
 * expected; where it comes out again it has more.
 */
const PARTLY = { score: 0.92, expected: 0.9, unsure: 0.85, again: 0.97, near: 1.5, radii: 0.1 }
/** A weak silhouette is believed up to so many looks in vain, and from such a score on before there is a course. */
const WEAK = { misses: 2, score: 0.75 }
/** Looks in vain, of which there are two a frame, after which a body is believed within so many half widths of its course. */
const LONG_GONE = { misses: 16, sizes: 2 }
/** A body that is shown within so many deviations of where it was expected goes on as it went. */
const SHOWN_NEAR = 4
/** A body that has moved by less than this, in pixels a frame, may have become a part of the background. */
const RESTS = 0.3

/** Angle in radians between a body and its way beyond which it is no streak. */
const STREAK_CROSSING = 0.25

/** What is needed to look for a body in a frame. */
interface Where {
  plane: Plane
  time: number
  others: readonly Other[]
  predicted: Prediction
  radius: number
  /** Brightness of the frame over that of the background. */
  gain: number
}

/** How a body lay in the frame in which it was seen before. */
type Before = Pose & { time: number }

/** What a frame shows, and how to learn from it where that is taken. */
interface Decision {
  sighting: Sighting
  /** Score of the template; 0 if it was found otherwise, or not at all. */
  score?: number
  accept: ((before: Before, predicted: Prediction) => void) | null
}

const hiddenAt = ({ x, y }: Point): Decision => ({ sighting: { kind: 'hidden', at: { x, y } }, accept: null })

/**
 * Follows one body through frames, one after the other, forwards or backwards in time. It takes parts of
 * frames and says what it sees; it holds no pictures but the templates it has learned.
 */
export class Follower implements Following {
  private readonly predictor = new Predictor()
  private readonly templates: TemplateMatcher
  private pose: Pose
  private wide = 1
  /** Looks in vain since it was seen last. */
  private misses = 0
  /** Frames in a row in which it was found. */
  private foundInRow = 0
  private lastTime: number
  /** How far it went from one sighting to the next, in pixels. */
  private stepLength = 0
  private readonly shape: BodySilhouette
  /** Null where the frames have no colours. */
  private colour: BodyColour | null = null

  /**
   * @param plane of the first frame, as large as `lookReach` asks for
   * @param before places in frames before it, oldest first, where there are some
   */
  constructor(
    plane: Plane,
    at: Point,
    time: number,
    outline: Outline,
    readonly background: Background | null,
    private readonly picture: { width: number; height: number },
    /** Usual time from one frame of the film to the next, in seconds: the shutter is open for a share of it. */
    private readonly frameSeconds: number,
    public settings: FollowSettings,
    before: (Point & { time: number })[] = [],
  ) {
    this.shape = new BodySilhouette(outline, background, frameSeconds)
    this.templates = new TemplateMatcher(outline, background)
    this.pose = { x: at.x, y: at.y, scale: 1, turn: 0 }
    this.learn(plane, at, time)
    for (const { time: when, ...where } of before) this.predictor.add(when, where)
    this.predictor.add(time, at)
    this.lastTime = time
  }

  /** Where the body is looked for at a time, and what part of the frame that needs. */
  reach(time: number): Reach {
    const predicted = this.predictor.at(time)
    const radius = this.radiusOf(predicted, time)
    const reach = radius + this.extent() + 8 * 2 ** this.templates.level
    return {
      at: { x: predicted.x, y: predicted.y },
      radius,
      rect: overlap(rectAround(predicted, { x: reach, y: reach }, 16), {
        x: 0,
        y: 0,
        width: this.picture.width,
        height: this.picture.height,
      }),
      by: predicted.by,
    }
  }

  /** Looks twice as far, within the same frame, where nothing was found. */
  widen(): void {
    this.wide = Math.min(WIDEST, WIDENED * this.wide)
  }

  /**
   * Looks for the body in a frame. What is found is learned from; what is not changes nothing.
   *
   * @param plane the part of the frame that `reach` asked for
   * @param others bodies that are followed in the same frame, whose places are not its own
   */
  see(plane: Plane, time: number, others: readonly Other[] = []): Sighting {
    const predicted = this.predictor.at(time)
    const radius = this.radiusOf(predicted, time)
    if (this.isOutside(predicted, predicted.error) && this.wasAtBorder(predicted, time))
      return { kind: 'left', at: { x: predicted.x, y: predicted.y } }
    return withArena(sceneBytes(plane, radius), () => {
      const { shape } = this
      const gain = shape.matcher?.gainOf(plane) ?? 1
      const where = { plane, time, others, predicted, radius, gain }
      if (shape.matcher && shape.byOutline) {
        const decision = this.fitted(shape.matcher, where)
        const isInDoubt = decision.accept === null && shape.isStreakInDoubt(this.foundInRow)
        if (!isInDoubt || !this.liesAcross(where)) return this.taken(this.doubted(decision, where), where)
        shape.forgetStreak()
      }
      const byTemplate = this.findByTemplate(where)
      const decision = shape.matcher ? this.compared(shape.matcher, byTemplate, where) : byTemplate
      return this.taken(this.doubted(decision, where), where)
    })
  }

  /** What is found far from its course after it was out of sight for long may be something else: a person is asked. */
  private doubted(decision: Decision, { predicted }: Where): Decision {
    const { sighting } = decision
    if (sighting.kind !== 'found' || this.misses <= LONG_GONE.misses) return decision
    if (distance(sighting.at, predicted) <= LONG_GONE.sizes * this.place().size) return decision
    return { sighting: { kind: 'elsewhere', at: sighting.at, places: [sighting.at] }, accept: null }
  }

  /** Takes in what was decided of a frame. */
  private taken({ sighting, accept }: Decision, { plane, time, predicted }: Where): Sighting {
    if (sighting.kind === 'hidden') {
      this.misses++
      this.foundInRow = 0
    }
    if (sighting.kind !== 'found' || !accept) return sighting
    const before = { ...this.pose, time: this.lastTime }
    this.pose = { ...sighting.pose, ...sighting.at }
    this.stepLength = distance(sighting.at, before)
    this.predictor.add(time, sighting.at)
    this.lastTime = time
    this.wide = 1
    this.misses = 0
    const { shape, settings } = this
    const seenBy = (inRow: number): Seen => ({
      plane,
      pose: this.pose,
      time,
      inRow,
      extent: this.extent(),
      certainty: sighting.certainty,
    })
    shape.learnStreak(seenBy(this.foundInRow), before, settings.placedBy)
    accept(before, predicted)
    if (!sighting.byOutline) shape.matcher?.acceptTemplate(this.pose, time)
    this.foundInRow++
    shape.learnLater(seenBy(this.foundInRow), before, settings.placedBy)
    return { ...sighting, pose: { ...this.pose } }
  }

  /** What the silhouette says of what was found by the template: the same, something better, or that it is background. */
  private compared(silhouette: SilhouetteMatcher, byTemplate: Decision, where: Where): Decision {
    const { plane, predicted } = where
    const { sighting } = byTemplate
    const { radius } = silhouette.shape
    const hidden = hiddenAt(predicted)
    const near = sighting.kind === 'found' ? partAround(plane, sighting.at, this.extent() + 10) : plane
    const difference = silhouette.differenceOf(near, where.gain)
    let found = sighting.kind === 'found' ? sighting : null
    if (found && silhouette.isBackground(difference, found.at, this.stepLength > RESTS)) found = null
    if (silhouette.quality === 'none') return found || sighting.kind !== 'found' ? byTemplate : hidden
    if (found && found.certainty > UNSURE) {
      // Of two places the one on the course is the body's, if its shape is there.
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
      const { turn } = this.pose
      this.shape.judge(isElsewhere ? null : found.at, fit, turn, this.settings.placedBy)
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

  /** Where the silhouette finds the body, of which the template said nothing or something else; null if it does not. */
  private byShapeAlone(silhouette: SilhouetteMatcher, where: Where): Decision | null {
    const decision = this.fitted(silhouette, where)
    if (decision.sighting.kind !== 'found') return null
    this.shape.judge(null, { ...decision.sighting.at, score: 0 }, this.pose.turn, this.settings.placedBy)
    return decision
  }

  /** Finds the body by its silhouette within the whole reach. */
  private fitted(silhouette: SilhouetteMatcher, where: Where): Decision {
    const { predicted, radius, others } = where
    const hidden = hiddenAt(predicted)
    const { difference, fit } = this.fittedNear(silhouette, where) ?? this.fittedWithin(silhouette, where)
    if (!fit || isTaken(fit, predicted, others)) return hidden
    const off = distance(fit, predicted)
    const isAgain = this.misses > 0 && !this.shape.byOutline
    // Where exactly the body is expected less of it is enough.
    const isThere = off < predicted.error && Number.isFinite(predicted.error) && this.misses <= WEAK.misses
    const usual = isAgain && !isThere ? PARTLY.again : isThere ? PARTLY.expected : PARTLY.score
    const whole = silhouette.isElongated || !silhouette.isProven ? PARTLY.unsure : usual
    const isPartly = silhouette.certaintyOf(fit) < whole
    // A weak one is believed only while the course is known, or where it fits well before there is one.
    const isNew = !Number.isFinite(predicted.error) && fit.score > WEAK.score
    const isOnCourse = Number.isFinite(predicted.error) && this.misses <= WEAK.misses
    if (silhouette.quality === 'weak' && !isNew && !isOnCourse) return hidden
    // Of what is followed by its template a part of the shape may be hidden, or something else is there.
    if (
      !this.shape.byOutline &&
      (isPartly || (Number.isFinite(predicted.error) && off > AGAIN.near * predicted.error))
    )
      return hidden
    if (isPartly && off > Math.max(PARTLY.near * predicted.error, PARTLY.radii * silhouette.shape.radius))
      return hidden
    if (this.misses > 0 && off > AGAIN.near * predicted.error && !this.isSudden(fit, predicted, radius))
      return hidden
    const { rival } = fit
    if (rival && rival.score > fit.score - RIVAL && !isTaken(rival, predicted, others)) {
      const apart = (distance(rival, predicted) - off) / predicted.error
      if (apart < NEARER)
        return { sighting: { kind: 'two', at: fit, places: [fit, { x: rival.x, y: rival.y }] }, accept: null }
    }
    if (this.isOutside(fit, 0)) return { sighting: { kind: 'left', at: fit }, accept: null }
    return this.byFit(silhouette, difference, fit, where)
  }

  /**
   * A typical fit close to the expected place, if that is known so well that no rival could be as near to it; null if there
   * is none. Much less of the frame has to be looked at for it.
   */
  private fittedNear(silhouette: SilhouetteMatcher, where: Where): { difference: Grid; fit: Fitted } | null {
    const { plane, predicted, gain } = where
    const reach = NEARER * predicted.error
    // Of an elongated one the turn has to be found as well.
    if (silhouette.isElongated || !(reach < silhouette.shape.radius)) return null
    const difference = silhouette.differenceOf(partAround(plane, predicted, this.extent() + reach + 10), gain)
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
    const smear = this.smearAt(predicted)
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
        pose: { ...this.pose, scale },
      },
      accept: (before) => {
        silhouette.accept(difference, fit, time)
        this.learnSmear(before)
      },
    }
  }

  /** Finds the body by its template. */
  private findByTemplate({ plane, others, predicted, radius }: Where): Decision {
    const hidden = hiddenAt(predicted)
    const { change } = this.settings
    const smear = this.smearAt(predicted)
    const needed = this.needed()
    const search = { pose: this.pose, predicted, radius, smear, needed, change, others }
    const match = this.templates.find(plane, this.shape.outline, search)
    if (!match) return hidden
    const { place, scale, turn, strength, rival } = match
    const { typicalScore: typical } = this.templates
    // What turns up somewhere else after it was out of sight for a while is something else.
    const isApart =
      distance(place, predicted) > AGAIN.near * predicted.error && !this.isSudden(place, predicted, radius)
    if (this.misses > 0 && (isApart || strength < AGAIN.score * typical)) return hidden
    if (rival) return { sighting: { kind: 'two', at: place, places: [place, rival] }, accept: null }
    if (this.isOutside(place, 0)) return { sighting: { kind: 'left', at: place }, accept: null }
    const colour = this.colour && colourWithin(plane, this.shape.outline, { ...place, scale, turn })
    if (this.colour && colour && isOtherColour(colour, this.colour)) return hidden
    return {
      sighting: {
        kind: 'found',
        at: place,
        by: predicted.by,
        byOutline: false,
        certainty: Math.min(1, Math.max(0, strength / Math.max(typical || 0, strength))),
        pose: { ...place, scale, turn },
      },
      score: strength,
      accept: (before) => {
        if (this.colour && colour) this.colour = renewedColour(this.colour, colour)
        if (Number.isNaN(typical)) this.learnSmear(before)
        this.templates.accept(match, before, smear, change)
      },
    }
  }

  /** Whether it can be told by its outline where its template fails. */
  get hasSilhouette(): boolean {
    return this.shape.matcher?.quality === 'full'
  }

  place(): Other {
    return { x: this.pose.x, y: this.pose.y, size: this.pose.scale * this.shape.size }
  }

  /**
   * Is shown where the body is: from here on it goes on with what it learns there.
   *
   * @param plane as large as `lookReach` asks for
   */
  show(plane: Plane, time: number, at: Point, outline?: Outline): void {
    const { shape } = this
    shape.showAgain(outline, this.foundInRow)
    this.pose = { x: at.x, y: at.y, scale: 1, turn: 0 }
    const predicted = this.predictor.at(time)
    const known = shape.matcher
    const isKnown = known?.quality === 'full' && known.isProven
    const isHiddenInPart = isKnown && !this.isWholeAt(known, { plane, at, time, predicted })
    this.learn(plane, at, time)
    // What is shown as it comes out again may be hidden in part: its silhouette is better known from before.
    const isWorse = (shape.matcher?.learnedScore ?? 0) < PARTLY.score * (known?.learnedScore ?? 0)
    if (isKnown && (isHiddenInPart || isWorse)) {
      known.showAt(plane, at)
      shape.matcher = known
    }
    // Where it is on its course the course is still known; after a jump nothing is.
    if (distance(at, predicted) < SHOWN_NEAR * predicted.error) this.predictor.add(time, at)
    else this.predictor.restart(time, at)
    this.stepLength = 0
    this.lastTime = time
    this.wide = 1
    this.misses = 0
  }

  /** Whether a silhouette finds the whole of the body where it is shown. */
  private isWholeAt(
    silhouette: SilhouetteMatcher,
    { plane, at, time, predicted }: { plane: Plane; at: Point; time: number; predicted: Prediction },
  ): boolean {
    const reach = 2 + 0.5 * silhouette.shape.radius
    const difference = silhouette.differenceOf(plane, silhouette.gainOf(plane))
    const search = { at, error: reach, reach, smear: this.smearAt(predicted), time, isPredicted: false }
    const fit = silhouette.find(difference, search)
    return fit !== null && silhouette.certaintyOf(fit) > PARTLY.again
  }

  /** The template by which the body was found last, as it lay there: brightness, and how many pixels of the frame each has. */
  matched(): { plane: Plane; each: number } {
    return this.templates.rendered(this.pose)
  }

  /** Rectangle of a frame that `show` needs. */
  showReach(at: Point): Rect {
    return templateReach(at, this.shape.outline)
  }

  private learn(plane: Plane, at: Point, time: number): void {
    this.templates.learn(plane, at, this.shape.outline)
    this.colour = colourWithin(plane, this.shape.outline, this.pose)
    this.shape.learnShown(plane, this.pose, time, this.settings.placedBy)
  }

  /** Whether the shape that was taken for a streak crosses the direction of motion, as no streak does. */
  private liesAcross(where: Where): boolean {
    const silhouette = this.shape.solidMatcher
    if (!silhouette) return false
    const fit = this.fittedWithin(silhouette, where).fit
    const { x, y } = where.predicted.velocity
    const crossing =
      fit && silhouette.shape.axis !== null ? silhouette.shape.axis + fit.turn - Math.atan2(y, x) : 0
    return Math.abs(crossing - Math.PI * Math.round(crossing / Math.PI)) > STREAK_CROSSING
  }

  /** Whether a body that was just missed may be so far from where it is expected since something knocked it away. */
  private isSudden(at: Point, predicted: Prediction, radius: number): boolean {
    const farthest = AGAIN.sizes * this.place().size + AGAIN.steps * this.stepLength
    return this.misses <= AGAIN.soon && distance(at, predicted) < Math.min(radius / this.wide, farthest)
  }

  private needed(): number {
    const { persistence } = this.settings
    const share = NEEDED.early + (NEEDED.late - NEEDED.early) * persistence
    if (Number.isNaN(this.templates.typicalScore)) return this.misses > 0 ? FIRST.missed : FIRST.score
    return Math.max(LOWEST, share * this.templates.typicalScore)
  }

  private extent(): number {
    return this.pose.scale * Math.max(...this.shape.outline.radii) + this.smearLength()
  }

  private smearLength(): number {
    return Math.min(120, this.shape.shutter * this.stepLength)
  }

  private radiusOf(predicted: Prediction, time: number): number {
    const seconds = Math.abs(time - this.lastTime)
    const step = Math.hypot(predicted.velocity.x, predicted.velocity.y) * seconds
    const first = Math.max(FIRST_REACH.pixels, FIRST_REACH.radii * this.shape.size)
    const reach = Number.isFinite(predicted.error) ? 6 + 4 * predicted.error + 0.8 * step : first + 0.8 * step
    return Math.min(Math.max(this.picture.width, this.picture.height), Math.max(10, reach) * this.wide)
  }

  private isOutside({ x, y }: Point, error: number): boolean {
    const { width, height } = this.picture
    return x < -error || y < -error || x > width + error || y > height + error
  }

  /** Whether it was last seen so near to the border that it can have gone out since, whole or in part. */
  private wasAtBorder(predicted: Prediction, time: number): boolean {
    const { x, y } = this.pose
    const seconds = Math.abs(time - this.lastTime)
    const near =
      2 * this.extent() +
      Math.hypot(predicted.velocity.x, predicted.velocity.y) * Math.min(seconds, 2 * this.frameSeconds)
    return x < near || y < near || x > this.picture.width - near || y > this.picture.height - near
  }

  /** Way that the body goes while the shutter is open. */
  private smearAt({ velocity }: Prediction): Point {
    const seconds = this.frameSeconds * this.shape.shutter
    return { x: velocity.x * seconds, y: velocity.y * seconds }
  }

  /** The smear that an outline or a template itself has is known as soon as the body's velocity is. */
  private learnSmear(before: Before): void {
    const share = (this.frameSeconds * this.shape.shutter) / (this.lastTime - before.time)
    const way = { x: share * (this.pose.x - before.x), y: share * (this.pose.y - before.y) }
    this.templates.learnSmear(way)
    this.shape.matcher?.learnSmear(way)
  }
}
