import { distance, type Point } from '../geometry/index.ts'
import type { Background } from './background.ts'
import { type BodyColour, colourWithin, isOtherColour, renewedColour } from './bodyColour.ts'
import { BodySilhouette, type Seen } from './bodySilhouette.ts'
import { NEARER, RIVAL } from './finder.ts'
import { type Grid, overlap, type Plane, partAround, type Rect, rectAround } from './grid.ts'
import { withRoom } from './kernels.ts'
import { lookReach, type Pose } from './look.ts'
import { type Change, LookMatcher } from './lookMatcher.ts'
import { isTaken, type Other, WIDENED } from './others.ts'
import type { Outline } from './outline.ts'
import { type Prediction, type PredictionName, Predictor } from './predict.ts'
import { roomForScenes } from './scene.ts'
import type { Fitted } from './silhouette.ts'
import type { SilhouetteMatcher } from './silhouetteMatcher.ts'

/** How a body is followed. */
export interface FollowSettings {
  /** 0: stop early, at the least doubt; 1: carry on as long as there is anything to go by. */
  courage: number
  change: Change
  /**
   * What tells the place: the body's outline against a known background, or the look around its point, which turns with
   * the body. Without it whichever proves the better witness.
   */
  placedBy?: 'outline' | 'look'
}

/** What a frame shows of a body that is followed. */
export type Sighting =
  | {
      kind: 'found'
      at: Point
      /** 0 … 1: how much of what is there the look explains, against what it usually does. */
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
/** Share of the usual score that a place must have, for the least and the most courage. */
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
/** A look that scores less than this share of the usual one may be of something that turns. */
const UNSURE = 0.8
/**
 * A look that is farther than this, in pixels and in radii, from where the whole shape is has found something else, where
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
const STREAK_ASKEW = 0.25

/** What is needed to look for a body in a frame. */
interface Where {
  plane: Plane
  time: number
  others: readonly Other[]
  told: Prediction
  radius: number
  /** Brightness of the frame over that of the background. */
  gain: number
}

/** How a body lay in the frame in which it was seen before. */
type Before = Pose & { time: number }

/** What a frame shows, and how to learn from it where that is taken. */
interface Decision {
  sighting: Sighting
  /** Score of the look; 0 if it was found otherwise, or not at all. */
  score?: number
  accept: ((before: Before, told: Prediction) => void) | null
}

const hiddenAt = ({ x, y }: Point): Decision => ({ sighting: { kind: 'hidden', at: { x, y } }, accept: null })

/**
 * Follows one body through frames, one after the other, forwards or backwards in time. It takes parts of
 * frames and says what it sees; it holds no pictures but the looks it has learned.
 */
export class Follower implements Following {
  private readonly predictor = new Predictor()
  private readonly looks: LookMatcher
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
    this.looks = new LookMatcher(outline, background)
    this.pose = { x: at.x, y: at.y, scale: 1, turn: 0 }
    this.learn(plane, at, time)
    for (const { time: when, ...where } of before) this.predictor.add(when, where)
    this.predictor.add(time, at)
    this.lastTime = time
  }

  /** Where the body is looked for at a time, and what part of the frame that needs. */
  reach(time: number): Reach {
    const told = this.predictor.at(time)
    const radius = this.radiusOf(told, time)
    const reach = radius + this.extent() + 8 * 2 ** this.looks.level
    return {
      at: { x: told.x, y: told.y },
      radius,
      rect: overlap(rectAround(told, { x: reach, y: reach }, 16), {
        x: 0,
        y: 0,
        width: this.picture.width,
        height: this.picture.height,
      }),
      by: told.by,
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
    const told = this.predictor.at(time)
    const radius = this.radiusOf(told, time)
    if (this.isOutside(told, told.error) && this.wasAtBorder(told, time))
      return { kind: 'left', at: { x: told.x, y: told.y } }
    return withRoom(roomForScenes(plane, radius), () => {
      const { shape } = this
      const gain = shape.matcher?.gainOf(plane) ?? 1
      const where = { plane, time, others, told, radius, gain }
      if (shape.matcher && shape.byOutline) {
        const decision = this.fitted(shape.matcher, where)
        const isInDoubt = decision.accept === null && shape.isStreakInDoubt(this.foundInRow)
        if (!isInDoubt || !this.liesAcross(where)) return this.taken(this.doubted(decision, where), where)
        shape.forgetStreak()
      }
      const looked = this.look(where)
      const decision = shape.matcher ? this.compared(shape.matcher, looked, where) : looked
      return this.taken(this.doubted(decision, where), where)
    })
  }

  /** What is found far from its course after it was out of sight for long may be something else: a person is asked. */
  private doubted(decision: Decision, { told }: Where): Decision {
    const { sighting } = decision
    if (sighting.kind !== 'found' || this.misses <= LONG_GONE.misses) return decision
    if (distance(sighting.at, told) <= LONG_GONE.sizes * this.place().size) return decision
    return { sighting: { kind: 'elsewhere', at: sighting.at, places: [sighting.at] }, accept: null }
  }

  /** Takes in what was decided of a frame. */
  private taken({ sighting, accept }: Decision, { plane, time, told }: Where): Sighting {
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
      ...{ plane, pose: this.pose, time, inRow },
      ...{ extent: this.extent(), certainty: sighting.certainty },
    })
    shape.learnStreak(seenBy(this.foundInRow), before, settings.placedBy)
    accept(before, told)
    if (!sighting.byOutline) shape.matcher?.acceptLook(this.pose, time)
    this.foundInRow++
    shape.learnLater(seenBy(this.foundInRow), before, settings.placedBy)
    return { ...sighting, pose: { ...this.pose } }
  }

  /** What the silhouette says of what was found by the look: the same, something better, or that it is background. */
  private compared(silhouette: SilhouetteMatcher, looked: Decision, where: Where): Decision {
    const { plane, told } = where
    const { sighting } = looked
    const { radius } = silhouette.shape
    const hidden = hiddenAt(told)
    const near = sighting.kind === 'found' ? partAround(plane, sighting.at, this.extent() + 10) : plane
    const difference = silhouette.differenceOf(near, where.gain)
    let found = sighting.kind === 'found' ? sighting : null
    if (found && silhouette.isBackground(difference, found.at, this.stepLength > RESTS)) found = null
    if (silhouette.quality === 'none') return found || sighting.kind !== 'found' ? looked : hidden
    if (found && found.certainty > UNSURE) {
      // Of two places the one on the course is the body's, if its shape is there.
      const isOffCourse = distance(found.at, told) > AGAIN.near * told.error + ELSEWHERE.pixels
      if (silhouette.quality === 'weak')
        return (isOffCourse && this.byShapeAlone(silhouette, where)) || looked
      const around = { at: found.at, reach: 2 + 0.3 * radius, isTold: true }
      const fit = this.fit(silhouette, difference, where, around)
      const off = fit ? distance(fit, found.at) : 0
      const isWhole = fit !== null && silhouette.certaintyOf(fit) > PARTLY.score
      const isExpected =
        fit !== null &&
        (fit.score > (looked.score ?? 1) + (Number.isFinite(told.error) ? ELSEWHERE.better : 0) ||
          (Number.isFinite(told.error) && distance(fit, told) < ELSEWHERE.nearer * distance(found.at, told)))
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
        : looked
    }
    if (sighting.kind === 'left') return looked
    const byShape = this.byShapeAlone(silhouette, where)
    return byShape ?? (found || sighting.kind === 'two' ? looked : hidden)
  }

  /** Where the silhouette finds the body, of which the look said nothing or something else; null if it does not. */
  private byShapeAlone(silhouette: SilhouetteMatcher, where: Where): Decision | null {
    const decision = this.fitted(silhouette, where)
    if (decision.sighting.kind !== 'found') return null
    this.shape.judge(null, { ...decision.sighting.at, score: 0 }, this.pose.turn, this.settings.placedBy)
    return decision
  }

  /** Finds the body by its silhouette within the whole reach. */
  private fitted(silhouette: SilhouetteMatcher, where: Where): Decision {
    const { told, radius, others } = where
    const hidden = hiddenAt(told)
    const { difference, fit } = this.fittedNear(silhouette, where) ?? this.fittedWithin(silhouette, where)
    if (!fit || isTaken(fit, told, others)) return hidden
    const off = distance(fit, told)
    const isAgain = this.misses > 0 && !this.shape.byOutline
    // Where exactly the body is expected less of it is enough.
    const isThere = off < told.error && Number.isFinite(told.error) && this.misses <= WEAK.misses
    const usual = isAgain && !isThere ? PARTLY.again : isThere ? PARTLY.expected : PARTLY.score
    const whole = silhouette.isElongated || !silhouette.isProven ? PARTLY.unsure : usual
    const isPartly = silhouette.certaintyOf(fit) < whole
    // A weak one is believed only while the course is known, or where it fits well before there is one.
    const isNew = !Number.isFinite(told.error) && fit.score > WEAK.score
    const isOnCourse = Number.isFinite(told.error) && this.misses <= WEAK.misses
    if (silhouette.quality === 'weak' && !isNew && !isOnCourse) return hidden
    // Of what is followed by its look a part of the shape may be hidden, or something else is there.
    if (!this.shape.byOutline && (isPartly || (Number.isFinite(told.error) && off > AGAIN.near * told.error)))
      return hidden
    if (isPartly && off > Math.max(PARTLY.near * told.error, PARTLY.radii * silhouette.shape.radius))
      return hidden
    if (this.misses > 0 && off > AGAIN.near * told.error && !this.isSudden(fit, told, radius)) return hidden
    const { rival } = fit
    if (rival && rival.score > fit.score - RIVAL && !isTaken(rival, told, others)) {
      const apart = (distance(rival, told) - off) / told.error
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
    const { plane, told, gain } = where
    const reach = NEARER * told.error
    // Of an elongated one the turn has to be found as well.
    if (silhouette.isElongated || !(reach < silhouette.shape.radius)) return null
    const difference = silhouette.differenceOf(partAround(plane, told, this.extent() + reach + 10), gain)
    const fit = this.fit(silhouette, difference, where, { at: told, reach, isTold: true })
    return fit && silhouette.certaintyOf(fit) > PARTLY.score ? { difference, fit } : null
  }

  /** The best fit within the whole reach. */
  private fittedWithin(
    silhouette: SilhouetteMatcher,
    where: Where,
  ): { difference: Grid; fit: Fitted | null } {
    const { plane, told, radius, gain } = where
    const difference = silhouette.differenceOf(plane, gain)
    return {
      difference,
      fit: this.fit(silhouette, difference, where, { at: told, reach: radius, isTold: false }),
    }
  }

  /** Where the silhouette fits, as the place of the body's point; null where it does not. */
  private fit(
    silhouette: SilhouetteMatcher,
    difference: Grid,
    { told, time }: Where,
    { at, reach, isTold }: { at: Point; reach: number; isTold: boolean },
  ): Fitted | null {
    const smear = this.smearAt(told)
    return silhouette.find(difference, { at, error: told.error, reach, smear, time, isTold })
  }

  private byFit(
    silhouette: SilhouetteMatcher,
    difference: Grid,
    fit: Fitted,
    { told, time }: Where,
  ): Decision {
    const { x, y, scale } = fit
    return {
      sighting: {
        ...{ kind: 'found', at: { x, y }, by: told.by, byOutline: true },
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

  /** Finds the body by its look. */
  private look({ plane, others, told, radius }: Where): Decision {
    const hidden = hiddenAt(told)
    const { change } = this.settings
    const smear = this.smearAt(told)
    const needed = this.needed()
    const search = { pose: this.pose, told, radius, smear, needed, change, others }
    const match = this.looks.find(plane, this.shape.outline, search)
    if (!match) return hidden
    const { place, scale, turn, strength, rival } = match
    const { typical } = this.looks
    // What turns up somewhere else after it was out of sight for a while is something else.
    const isApart = distance(place, told) > AGAIN.near * told.error && !this.isSudden(place, told, radius)
    if (this.misses > 0 && (isApart || strength < AGAIN.score * typical)) return hidden
    if (rival) return { sighting: { kind: 'two', at: place, places: [place, rival] }, accept: null }
    if (this.isOutside(place, 0)) return { sighting: { kind: 'left', at: place }, accept: null }
    const colour = this.colour && colourWithin(plane, this.shape.outline, { ...place, scale, turn })
    if (this.colour && colour && isOtherColour(colour, this.colour)) return hidden
    return {
      sighting: {
        ...{ kind: 'found', at: place, by: told.by, byOutline: false },
        certainty: Math.min(1, Math.max(0, strength / Math.max(typical || 0, strength))),
        pose: { ...place, scale, turn },
      },
      score: strength,
      accept: (before) => {
        if (this.colour && colour) this.colour = renewedColour(this.colour, colour)
        if (Number.isNaN(typical)) this.learnSmear(before)
        this.looks.accept(match, before, smear, change)
      },
    }
  }

  /** Whether it can be told by its outline where its look fails. */
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
    const told = this.predictor.at(time)
    const known = shape.matcher
    const isKnown = known?.quality === 'full' && known.isProven
    const isHiddenInPart = isKnown && !this.isWholeAt(known, { plane, at, time, told })
    this.learn(plane, at, time)
    // What is shown as it comes out again may be hidden in part: its silhouette is better known from before.
    const isWorse = (shape.matcher?.learnedScore ?? 0) < PARTLY.score * (known?.learnedScore ?? 0)
    if (isKnown && (isHiddenInPart || isWorse)) {
      known.showAt(plane, at)
      shape.matcher = known
    }
    // Where it is on its course the course is still known; after a jump nothing is.
    if (distance(at, told) < SHOWN_NEAR * told.error) this.predictor.add(time, at)
    else this.predictor.restart(time, at)
    this.stepLength = 0
    this.lastTime = time
    this.wide = 1
    this.misses = 0
  }

  /** Whether a silhouette finds the whole of the body where it is shown. */
  private isWholeAt(
    silhouette: SilhouetteMatcher,
    { plane, at, time, told }: { plane: Plane; at: Point; time: number; told: Prediction },
  ): boolean {
    const reach = 2 + 0.5 * silhouette.shape.radius
    const difference = silhouette.differenceOf(plane, silhouette.gainOf(plane))
    const search = { at, error: reach, reach, smear: this.smearAt(told), time, isTold: false }
    const fit = silhouette.find(difference, search)
    return fit !== null && silhouette.certaintyOf(fit) > PARTLY.again
  }

  /** The look by which the body was found last, as it lay there: brightness, and how many pixels of the frame each has. */
  matched(): { plane: Plane; each: number } {
    return this.looks.rendered(this.pose)
  }

  /** Rectangle of a frame that `show` needs. */
  showReach(at: Point): Rect {
    return lookReach(at, this.shape.outline)
  }

  private learn(plane: Plane, at: Point, time: number): void {
    this.looks.learn(plane, at, this.shape.outline)
    this.colour = colourWithin(plane, this.shape.outline, this.pose)
    this.shape.learnShown(plane, this.pose, time, this.settings.placedBy)
  }

  /** Whether the shape that was taken for a streak lies askew to the way that the body goes now, as no streak does. */
  private liesAcross(where: Where): boolean {
    const silhouette = this.shape.solidMatcher
    if (!silhouette) return false
    const fit = this.fittedWithin(silhouette, where).fit
    const { x, y } = where.told.velocity
    const askew =
      fit && silhouette.shape.axis !== null ? silhouette.shape.axis + fit.turn - Math.atan2(y, x) : 0
    return Math.abs(askew - Math.PI * Math.round(askew / Math.PI)) > STREAK_ASKEW
  }

  /** Whether a body that was just missed may be so far from where it is expected since something knocked it away. */
  private isSudden(at: Point, told: Prediction, radius: number): boolean {
    const farthest = AGAIN.sizes * this.place().size + AGAIN.steps * this.stepLength
    return this.misses <= AGAIN.soon && distance(at, told) < Math.min(radius / this.wide, farthest)
  }

  private needed(): number {
    const { courage } = this.settings
    const share = NEEDED.early + (NEEDED.late - NEEDED.early) * courage
    if (Number.isNaN(this.looks.typical)) return this.misses > 0 ? FIRST.missed : FIRST.score
    return Math.max(LOWEST, share * this.looks.typical)
  }

  private extent(): number {
    return this.pose.scale * Math.max(...this.shape.outline.radii) + this.smearLength()
  }

  private smearLength(): number {
    return Math.min(120, this.shape.shutter * this.stepLength)
  }

  private radiusOf(told: Prediction, time: number): number {
    const seconds = Math.abs(time - this.lastTime)
    const step = Math.hypot(told.velocity.x, told.velocity.y) * seconds
    const first = Math.max(FIRST_REACH.pixels, FIRST_REACH.radii * this.shape.size)
    const reach = Number.isFinite(told.error) ? 6 + 4 * told.error + 0.8 * step : first + 0.8 * step
    return Math.min(Math.max(this.picture.width, this.picture.height), Math.max(10, reach) * this.wide)
  }

  private isOutside({ x, y }: Point, error: number): boolean {
    const { width, height } = this.picture
    return x < -error || y < -error || x > width + error || y > height + error
  }

  /** Whether it was last seen so near to the border that it can have gone out since, whole or in part. */
  private wasAtBorder(told: Prediction, time: number): boolean {
    const { x, y } = this.pose
    const seconds = Math.abs(time - this.lastTime)
    const near =
      2 * this.extent() +
      Math.hypot(told.velocity.x, told.velocity.y) * Math.min(seconds, 2 * this.frameSeconds)
    return x < near || y < near || x > this.picture.width - near || y > this.picture.height - near
  }

  /** Way that the body goes while the shutter is open. */
  private smearAt({ velocity }: Prediction): Point {
    const seconds = this.frameSeconds * this.shape.shutter
    return { x: velocity.x * seconds, y: velocity.y * seconds }
  }

  /** The smear that an outline or a look itself has is known as soon as the body's velocity is. */
  private learnSmear(before: Before): void {
    const share = (this.frameSeconds * this.shape.shutter) / (this.lastTime - before.time)
    const way = { x: share * (this.pose.x - before.x), y: share * (this.pose.y - before.y) }
    this.looks.learnSmear(way)
    this.shape.matcher?.learnSmear(way)
  }
}
