import { distance, type Point } from '../geometry/index.ts'
import { withArena } from '../kernels/index.ts'
import type { Background } from './background.ts'
import { type BodyColour, colourWithin, isOtherColour, renewedColour } from './bodyColour.ts'
import { BodySilhouette, type Seen } from './bodySilhouette.ts'
import { AGAIN, BodyTrack } from './bodyTrack.ts'
import { overlap, type Plane, type Rect, rectAround } from './grid.ts'
import { type Other, WIDENED } from './others.ts'
import type { Outline } from './outline.ts'
import { sceneBytes } from './scene.ts'
import {
  type Before,
  type Decision,
  type Following,
  type FollowSettings,
  hiddenAt,
  type Reach,
  type Sighting,
  type Where,
} from './sighting.ts'
import { PARTLY, SilhouetteSightings } from './silhouetteSightings.ts'
import { templateReach } from './template.ts'
import { TemplateMatcher } from './templateMatcher.ts'

/** Share of the typical score that a place must have, for the least and the most persistence. */
const NEEDED = { early: 0.88, late: 0.6 }
/** No score below this is ever a sighting. */
const LOWEST = 0.4
/** Before it was found for the first time, and after it was missed before that. */
const FIRST = { score: 0.68, missed: 0.95 }
/** Times that the reach is widened at most. */
const WIDEST = 3
/** Failed searches, two per frame, after which a body is accepted only within so many half widths of its predicted path. */
const LONG_GONE = { misses: 16, sizes: 2 }
/** A body that is shown within so many deviations of where it was expected goes on as it went. */
const SHOWN_NEAR = 4

/**
 * Follows one body through frames, one after the other, forwards or backwards in time. It takes parts of frames and
 * returns what it sees; it keeps no pictures except the templates it has learned.
 */
export class Follower implements Following {
  private readonly track: BodyTrack
  private readonly silhouettes: SilhouetteSightings
  private readonly templates: TemplateMatcher
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
    picture: { width: number; height: number },
    /** Typical time from one frame of the film to the next, in seconds: the shutter is open for a share of it. */
    frameSeconds: number,
    public settings: FollowSettings,
    before: (Point & { time: number })[] = [],
  ) {
    this.shape = new BodySilhouette(outline, background, frameSeconds)
    this.templates = new TemplateMatcher(outline, background)
    this.track = new BodyTrack(at, time, this.shape, picture, frameSeconds)
    this.silhouettes = new SilhouetteSightings(
      this.track,
      this.shape,
      () => this.settings,
      (before) => this.learnSmear(before),
    )
    this.learn(plane, at, time)
    for (const { time: when, ...where } of before) this.track.predictor.add(when, where)
    this.track.predictor.add(time, at)
  }

  /** Returns where the body is looked for at a time, and what part of the frame that needs. */
  reach(time: number): Reach {
    const predicted = this.track.predictor.at(time)
    const radius = this.track.radiusOf(predicted, time)
    const reach = radius + this.track.extent() + 8 * 2 ** this.templates.level
    return {
      at: { x: predicted.x, y: predicted.y },
      radius,
      rect: overlap(rectAround(predicted, { x: reach, y: reach }, 16), {
        x: 0,
        y: 0,
        width: this.track.picture.width,
        height: this.track.picture.height,
      }),
      by: predicted.by,
    }
  }

  /** Looks twice as far, within the same frame, where nothing was found. */
  widen(): void {
    this.track.wide = Math.min(WIDEST, WIDENED * this.track.wide)
  }

  /**
   * Looks for the body in a frame. What is found is learned from; what is not changes nothing.
   *
   * @param plane the part of the frame that `reach` asked for
   * @param others bodies that are followed in the same frame, whose places are not its own
   */
  see(plane: Plane, time: number, others: readonly Other[] = []): Sighting {
    const predicted = this.track.predictor.at(time)
    const radius = this.track.radiusOf(predicted, time)
    if (this.track.isOutside(predicted, predicted.error) && this.track.wasAtBorder(predicted, time))
      return { kind: 'left', at: { x: predicted.x, y: predicted.y } }
    return withArena(sceneBytes(plane, radius), () => {
      const { shape } = this
      const gain = shape.matcher?.gainOf(plane) ?? 1
      const where = { plane, time, others, predicted, radius, gain }
      if (shape.matcher && shape.byOutline) {
        const decision = this.silhouettes.fitted(shape.matcher, where)
        const isInDoubt = decision.accept === null && shape.isStreakInDoubt(this.track.foundInRow)
        if (!isInDoubt || !this.silhouettes.liesAcross(where))
          return this.taken(this.doubted(decision, where), where)
        shape.forgetStreak()
      }
      const byTemplate = this.findByTemplate(where)
      const decision = shape.matcher
        ? this.silhouettes.compared(shape.matcher, byTemplate, where)
        : byTemplate
      return this.taken(this.doubted(decision, where), where)
    })
  }

  /** Returns the decision, or asks a person if something was found far from the predicted path after a long gap. */
  private doubted(decision: Decision, { predicted }: Where): Decision {
    const { sighting } = decision
    if (sighting.kind !== 'found' || this.track.misses <= LONG_GONE.misses) return decision
    if (distance(sighting.at, predicted) <= LONG_GONE.sizes * this.track.place().size) return decision
    return { sighting: { kind: 'elsewhere', at: sighting.at, places: [sighting.at] }, accept: null }
  }

  /** Takes in what was decided of a frame. */
  private taken({ sighting, accept }: Decision, { plane, time, predicted }: Where): Sighting {
    if (sighting.kind === 'hidden') {
      this.track.misses++
      this.track.foundInRow = 0
    }
    if (sighting.kind !== 'found' || !accept) return sighting
    const before = { ...this.track.pose, time: this.track.lastTime }
    this.track.pose = { ...sighting.pose, ...sighting.at }
    this.track.stepLength = distance(sighting.at, before)
    this.track.predictor.add(time, sighting.at)
    this.track.lastTime = time
    this.track.wide = 1
    this.track.misses = 0
    const { shape, settings } = this
    const seenBy = (inRow: number): Seen => ({
      plane,
      pose: this.track.pose,
      time,
      inRow,
      extent: this.track.extent(),
      certainty: sighting.certainty,
    })
    shape.learnStreak(seenBy(this.track.foundInRow), before, settings.placedBy)
    accept(before, predicted)
    if (!sighting.byOutline) shape.matcher?.acceptTemplate(this.track.pose, time)
    this.track.foundInRow++
    shape.learnLater(seenBy(this.track.foundInRow), before, settings.placedBy)
    return { ...sighting, pose: { ...this.track.pose } }
  }

  /** Finds the body by its template. */
  private findByTemplate({ plane, others, predicted, radius }: Where): Decision {
    const hidden = hiddenAt(predicted)
    const { change } = this.settings
    const smear = this.track.smearAt(predicted)
    const needed = this.needed()
    const search = { pose: this.track.pose, predicted, radius, smear, needed, change, others }
    const match = this.templates.find(plane, this.shape.outline, search)
    if (!match) return hidden
    const { place, scale, turn, strength, rival } = match
    const { typicalScore: typical } = this.templates
    // What turns up somewhere else after it was out of sight for a while is something else.
    const isApart =
      distance(place, predicted) > AGAIN.near * predicted.error &&
      !this.track.isSudden(place, predicted, radius)
    if (this.track.misses > 0 && (isApart || strength < AGAIN.score * typical)) return hidden
    if (rival) return { sighting: { kind: 'two', at: place, places: [place, rival] }, accept: null }
    if (this.track.isOutside(place, 0)) return { sighting: { kind: 'left', at: place }, accept: null }
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

  /** Returns true if it can be told by its outline where its template fails. */
  get hasSilhouette(): boolean {
    return this.shape.matcher?.quality === 'full'
  }

  place(): Other {
    return this.track.place()
  }

  /**
   * Is shown where the body is: from here on it goes on with what it learns there.
   *
   * @param plane as large as `lookReach` asks for
   */
  show(plane: Plane, time: number, at: Point, outline?: Outline): void {
    const { shape } = this
    shape.showAgain(outline, this.track.foundInRow)
    this.track.pose = { x: at.x, y: at.y, scale: 1, turn: 0 }
    const predicted = this.track.predictor.at(time)
    const known = shape.matcher
    const isKnown = known?.quality === 'full' && known.isProven
    const isHiddenInPart = isKnown && !this.silhouettes.isWholeAt(known, { plane, at, time, predicted })
    this.learn(plane, at, time)
    // What is shown as it comes out again may be hidden in part: its silhouette is better known from before.
    const isWorse = (shape.matcher?.learnedScore ?? 0) < PARTLY.score * (known?.learnedScore ?? 0)
    if (isKnown && (isHiddenInPart || isWorse)) {
      known.showAt(plane, at)
      shape.matcher = known
    }
    // On its predicted path the motion is still known; after a jump it is not.
    if (distance(at, predicted) < SHOWN_NEAR * predicted.error) this.track.predictor.add(time, at)
    else this.track.predictor.restart(time, at)
    this.track.stepLength = 0
    this.track.lastTime = time
    this.track.wide = 1
    this.track.misses = 0
  }

  /** Returns the template by which the body was found last, as it lay there: brightness, and how many pixels of the frame each has. */
  matched(): { plane: Plane; each: number } {
    return this.templates.rendered(this.track.pose)
  }

  /** Returns the rectangle of a frame that `show` needs. */
  showReach(at: Point): Rect {
    return templateReach(at, this.shape.outline)
  }

  private learn(plane: Plane, at: Point, time: number): void {
    this.templates.learn(plane, at, this.shape.outline)
    this.colour = colourWithin(plane, this.shape.outline, this.track.pose)
    const { pose } = this.track
    this.shape.learnShown(plane, pose, time, this.settings.placedBy, this.templates.placeError)
  }

  private needed(): number {
    const { persistence } = this.settings
    const share = NEEDED.early + (NEEDED.late - NEEDED.early) * persistence
    if (Number.isNaN(this.templates.typicalScore)) return this.track.misses > 0 ? FIRST.missed : FIRST.score
    return Math.max(LOWEST, share * this.templates.typicalScore)
  }

  /** The smear that an outline or a template itself has is known as soon as the body's velocity is. */
  private learnSmear(before: Before): void {
    const way = this.shape.smearOf({ pose: this.track.pose, time: this.track.lastTime }, before)
    this.templates.learnSmear(way)
    this.shape.matcher?.learnSmear(way)
  }
}
