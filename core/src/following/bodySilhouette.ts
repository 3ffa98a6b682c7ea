import { distance, type Point } from '../geometry/index.ts'
import type { Background } from './background.ts'
import { isKnownBehind } from './coverage.ts'
import { type Plane, partAround } from './grid.ts'
import { grownOutline, type Outline, OutlineError, sizeOf, unposed } from './outline.ts'
import { SilhouetteMatcher } from './silhouetteMatcher.ts'
import { streakOf } from './streak.ts'
import type { Pose } from './template.ts'
import { TurningTest } from './turningTest.ts'

/** Score above which an outline fits almost exactly. */
const SHARP = 0.9
/** Share of its typical score that a template must have to be learned by. */
const SURE_LOOK = 0.9
/**
 * A silhouette is tried to be learned again, by a template that scores `SURE_LOOK` of the typical, once the body has gone this
 * share of its half width, farther each time that it fails.
 */
const AGAIN_LEARNT = { first: 0.1, growth: 1.5 }
/**
 * An outline is drawn anew once a body has left the place where it was shown by so many of its radii, and was found in more
 * than so many frames in a row, so that nothing hides a part of it; it is taken if its silhouette scores better by so much;
 * `best` is what none exceeds.
 */
const REDRAWN = { sizes: 2.5, inView: 3, better: 0.05, best: 0.96 }
/**
 * A template that has turned by less than `slightly`, in radians, since it was shown has not slipped. That of a round body that
 * has turned by more than `by` has, if it lies apart from the outline by so many pixels and radii on the average; the body's
 * point is then taken for the middle, if it was clicked within `offCentre` radii of that and nothing else is known.
 */
const TURNED = { slightly: 0.2, by: 0.8, pixels: 0.5, radii: 0.05, offCentre: 0.4 }
/** Standard error of its place, in pixels, from which on a pattern in brightness gives way to an outline in colour. */
const VAGUE = 0.2
/** Share of the frame's time for which the shutter is taken to be open where no streak tells it. */
const SHUTTER = 0.5
/** Lengths of a streak that are tried, over what its outline tells. */
const STREAK_ENDS = [1, 1.2, 1.4, 1.6, 1.8]
/** Frames in a row in which what was taken for a streak must be found, or it may be a long body. */
const STREAK_PROVEN = 2
/** How a body lies whose outline has just been drawn. */
const UNTURNED = { scale: 1, turn: 0 }

/** A sighting that the silhouette can be learned from. */
export interface Seen {
  plane: Plane
  pose: Pose
  time: number
  /** Distance from the body's point to the farthest that belongs to it, with its smear, in pixels. */
  extent: number
  certainty: number
  /** Frames in a row in which the body was found. */
  inRow: number
}

/** What determines the position; if left out, whichever proves more consistent. */
export type PlacedBy = 'outline' | 'template' | undefined

/**
 * The outline and silhouette of a body: learned where the body is shown, and refined as it is seen to move. Decides
 * whether they or the template determine its position.
 */
export class BodySilhouette {
  outline: Outline
  /** What differs from a known background; null where that is not known. */
  matcher: SilhouetteMatcher | null = null
  /** Whether the place is that of the outline. */
  byOutline = false
  /** Share of the frame's time for which the shutter is open. */
  shutter = SHUTTER
  /** Whether the body's pattern in brightness tells little of its place. */
  private isVague = false
  private turning = new TurningTest()
  /** Where a person has shown it last, and whether its outline was drawn anew since. */
  private shown: { plane: Plane; at: Point } | null = null
  private isRedrawn = false
  /** Whether the first step has told whether it is a streak, and what was known before it was taken for one. */
  private isStreakKnown = false
  private beforeStreak: { matcher: SilhouetteMatcher | null; outline: Outline; shutter: number } | null = null
  /** Where it was tried last to learn the silhouette, and how often since it was shown though the background was known. */
  private learnedAt: Point = { x: 0, y: 0 }
  private failures = 0

  constructor(
    outline: Outline,
    private readonly background: Background | null,
    /** Usual time from one frame of the film to the next, in seconds. */
    private readonly frameSeconds: number,
  ) {
    this.outline = outline
  }

  /** Half width of the body as it was shown. */
  get size(): number {
    return sizeOf(this.outline)
  }

  /** Forgets what followed from where it was shown before; `learn` is to come next. */
  showAgain(outline: Outline | undefined, inRow: number): void {
    if (this.isStreakInDoubt(inRow)) this.forgetStreak()
    this.outline = outline ?? this.outline
    this.isRedrawn = false
    this.isStreakKnown = false
    this.beforeStreak = null
    this.failures = 0
    this.turning = new TurningTest()
  }

  /**
   * Learns the silhouette where a person shows the body.
   *
   * @param placeError standard error, in pixels, with which the body's pattern tells its place
   */
  learnShown(plane: Plane, pose: Pose, time: number, placedBy: PlacedBy, placeError: number): void {
    this.shown = { plane, at: { x: pose.x, y: pose.y } }
    this.isVague = placeError > VAGUE
    this.learn(plane, pose, time, placedBy)
  }

  private learn(plane: Plane, pose: Pose, time: number, placedBy: PlacedBy): void {
    const { background, outline } = this
    this.learnedAt = { x: pose.x, y: pose.y }
    this.matcher = background && SilhouetteMatcher.learn(plane, pose, time, outline, background, pose)
    const { quality, isByColour } = this.matcher ?? {}
    const isBetter = this.isVague && isByColour === true
    this.byOutline = quality === 'full' && (placedBy === 'outline' || (!placedBy && isBetter))
  }

  /** Returns the way that the body goes from one frame of the film to the next, by its last two sightings. */
  private stepOf({ pose, time }: Pick<Seen, 'pose' | 'time'>, before: Point & { time: number }): Point {
    const share = this.frameSeconds / (time - before.time)
    return { x: share * (pose.x - before.x), y: share * (pose.y - before.y) }
  }

  /** Returns the way that the body goes while the shutter is open, by its last two sightings. */
  smearOf(seen: Pick<Seen, 'pose' | 'time'>, before: Point & { time: number }): Point {
    const { x, y } = this.stepOf(seen, before)
    return { x: this.shutter * x, y: this.shutter * y }
  }

  /** Learns from a sighting what can only be learned once the body has moved. */
  learnLater(seen: Seen, before: Point & { time: number }, placedBy: PlacedBy): void {
    const { plane, pose, certainty, extent } = seen
    const isSure = certainty > SURE_LOOK
    const smear = this.smearOf(seen, before)
    if (!this.isRedrawn && this.hasLeft(before) && seen.inRow > REDRAWN.inView && isSure)
      this.redraw(seen, smear)
    // What was at rest, or in a hand, may stand clear of the background later.
    const { quality, isElongated } = this.matcher ?? { quality: 'none' }
    const isLearnt = quality === 'full' || (quality === 'weak' && isElongated)
    const halfWidth = pose.scale * this.size
    const farther = AGAIN_LEARNT.first * AGAIN_LEARNT.growth ** this.failures * halfWidth
    const isElsewhere = distance(pose, this.learnedAt) > farther
    if (!isLearnt && isElsewhere && isSure && this.isBackgroundKnown(pose, halfWidth)) {
      this.learnAgain({ ...seen, plane: partAround(plane, pose, extent + 10) }, smear, placedBy)
      this.failures++
    }
  }

  /** Returns true if most of what is behind the body at a place is known. */
  private isBackgroundKnown(at: Point, halfWidth: number): boolean {
    return this.background !== null && isKnownBehind(this.background, at, halfWidth)
  }

  /** Returns true if the body has gone so far from where it was shown that other background is behind all of it. */
  private hasLeft(at: Point): boolean {
    return this.shown !== null && distance(at, this.shown.at) > REDRAWN.sizes * this.size
  }

  /**
   * Draws the outline anew for the silhouette, and takes it if it fits better by far: where the body rested a part of
   * what was behind it is not known, and the outline may have been drawn without that part of the body.
   */
  private redraw({ plane, pose, time, extent }: Seen, smear: Point): void {
    const { background } = this
    this.isRedrawn = true
    if (!background || this.matcher?.isStreak) return
    const near = partAround(plane, pose, 1.5 * extent + 12)
    const learnedBy = (outline: Outline) =>
      SilhouetteMatcher.learn(near, pose, time, outline, background, pose)
    const take = (anew: SilhouetteMatcher) => {
      this.anchor(anew, this.matcher, pose.turn)
      anew.learnSmear(smear)
      this.matcher = anew
      this.turning = new TurningTest()
    }
    const same = learnedBy(this.outline)
    const least = (same?.learnedScore ?? 0) + REDRAWN.better
    const outline = least <= REDRAWN.best ? outlineAnew(near, pose, background) : null
    const anew = outline && learnedBy(outline)
    if (outline && anew?.quality === 'full' && anew.learnedScore >= least) {
      this.outline = outline
      take(anew)
      return
    }
    // What was learned while a part of what is behind it was not known may be only a part of the body.
    const { matcher } = this
    const isLarger = same !== null && matcher !== null && same.shape.radius > matcher.shape.radius
    if (isLarger && same.quality === 'full' && same.learnedScore >= matcher.learnedScore + REDRAWN.better)
      take(same)
  }

  /** Learns the silhouette once more, and takes it if it is better than what there is. */
  private learnAgain({ plane, pose, time }: Seen, smear: Point, placedBy: PlacedBy): void {
    const before = this.matcher
    this.learn(plane, pose, time, placedBy)
    const isBetter = (this.matcher?.learnedScore ?? 0) > (before?.learnedScore ?? 0)
    if (this.matcher && isBetter) {
      this.anchor(this.matcher, before, pose.turn)
      this.matcher.learnSmear(smear)
    } else this.matcher = before
  }

  /**
   * Finds out where within a silhouette that was learned late the body's point is: from the frame in which it was shown, or
   * as in the silhouette that was learned there, or, where nothing is known of that, it is the middle of a round body that
   * has turned since.
   */
  private anchor(matcher: SilhouetteMatcher, before: SilhouetteMatcher | null, turn: number): void {
    const { shown } = this
    if (!this.mayHaveSlipped(turn) || (shown && matcher.anchorBy(shown.plane, shown.at))) return
    if (before && before.quality !== 'none') matcher.anchorLike(before)
    else if (this.isTurned(matcher, turn) && matcher.offCentre < TURNED.offCentre) matcher.centre()
  }

  /** Returns true if the template has turned since it was shown: one that has not has not slipped. */
  private mayHaveSlipped(turn: number): boolean {
    return Math.abs(turn) > TURNED.slightly
  }

  /** Returns true if a round body has turned so far that its outline is a better witness than its template. */
  private isTurned(matcher: SilhouetteMatcher, turn: number): boolean {
    return !matcher.isElongated && Math.abs(turn) > TURNED.by
  }

  /**
   * Finds out by the first step whether the body is a streak: then its outline is drawn without the smear, which has another
   * direction later, and its length tells the shutter. Taken if the silhouette fits better than one of what is as long
   * without a smear.
   */
  learnStreak(seen: Seen, before: Point & { time: number }, placedBy: PlacedBy): void {
    if (this.isStreakKnown) return
    this.isStreakKnown = true
    const { background, shown } = this
    const { plane, pose, time, extent } = seen
    const step = this.stepOf(seen, before)
    const streak = streakOf(this.outline, step)
    if (!streak || !background || !shown) return
    const near = partAround(plane, pose, extent + 10)
    const way = Math.hypot(step.x, step.y)
    const smearOf = (shutter: number) => ({ x: shutter * step.x, y: shutter * step.y })
    const learnedAs = (outline: Outline, shutter: number, smear: Point) => {
      const streak = { smear, length: shutter * way }
      return SilhouetteMatcher.learn(near, pose, time, outline, background, UNTURNED, streak)
    }
    // The faint ends of a streak lie outside its outline.
    let best: { shutter: number; learned: SilhouetteMatcher } | null = null
    for (const times of STREAK_ENDS) {
      const shutter = Math.min(1, (times * streak.length) / way)
      const learned = learnedAs(streak.outline, shutter, smearOf(shutter))
      if (learned && learned.learnedScore > (best?.learned.learnedScore ?? 0)) best = { shutter, learned }
    }
    if (best?.learned.quality !== 'full') return
    const { learned, shutter } = best
    // What is as long without a smear covers as much at its ends as in its middle.
    const solid = learnedAs(this.outline, shutter, { x: 0, y: 0 })
    if (learned.learnedScore < (solid?.learnedScore ?? 0)) return
    // Who clicks a streak means its middle; the border of the picture may have cut it there.
    learned.anchorBy(shown.plane, shown.at, smearOf(shutter))
    if (learned.offCentre < TURNED.offCentre) learned.centre()
    this.beforeStreak = { matcher: this.matcher, outline: this.outline, shutter: this.shutter }
    this.matcher = learned
    this.outline = streak.outline
    this.shutter = shutter
    // Of a streak a template says less.
    this.byOutline = placedBy !== 'template'
  }

  /** Returns true if what was taken for a streak has hardly been seen since. */
  isStreakInDoubt(inRow: number): boolean {
    return this.beforeStreak !== null && inRow < STREAK_PROVEN
  }

  /** Returns what was known before the body was taken for a streak; null where it was not, or nothing was known. */
  get solidMatcher(): SilhouetteMatcher | null {
    return this.beforeStreak?.matcher ?? null
  }

  /** Goes back to how the body was known before it was taken for a streak: it was long, and has turned. */
  forgetStreak(): void {
    Object.assign(this, this.beforeStreak)
    this.beforeStreak = null
    this.byOutline = false
  }

  /**
   * Decides by the last places of template and outline which of them tells the place from now on.
   *
   * @param shape score of the outline's fit and where it is; null where it does not fit
   * @param turn of the template since it was shown, in radians
   */
  judge(
    template: Point | null,
    shape: (Point & { score: number }) | null,
    turn: number,
    placedBy: PlacedBy,
  ): void {
    const { matcher } = this
    if (matcher?.quality !== 'full' || matcher.isStreak || placedBy) return
    const { radius } = matcher.shape
    const isTrusted = !matcher.isElongated || this.mayHaveSlipped(turn)
    const isSharp = shape !== null && shape.score > SHARP && isTrusted
    const verdict = this.turning.add(template, shape, radius, isSharp)
    const isTurned = this.isTurned(matcher, turn)
    const hasSlipped =
      isTurned && this.turning.apartFromSharp > Math.max(TURNED.pixels, TURNED.radii * radius)
    this.byOutline = verdict === 'turns' || hasSlipped
    // Where the template goes on smoothly without it, the outline is of something else besides: a string, a shadow.
    if (verdict === 'outline is wrong' && !isTurned) this.matcher = null
  }

  /** Returns true if the silhouette may be brought to where the template has the point: that is smooth, and has not slipped. */
  canAlign(matcher: SilhouetteMatcher, turn: number): boolean {
    return this.turning.isTemplateSmooth && !this.isTurned(matcher, turn)
  }
}

/** Returns the outline of a body as it would lie unposed, grown anew from where it is; null where nothing stands out. */
function outlineAnew(plane: Plane, pose: Pose, background: Background): Outline | null {
  try {
    return unposed(grownOutline(plane, pose, background), pose)
  } catch (error) {
    if (error instanceof OutlineError) return null
    throw error
  }
}
