import type { Point } from '../geometry/index.ts'
import { withArena } from '../kernels/index.ts'
import { type Background, LEVELS, meanLight } from './background.ts'
import { isKnownBehind } from './coverage.ts'
import { type Found, findPoint, findTemplate, NEARER, type Search } from './finder.ts'
import type { Plane } from './grid.ts'
import { isTaken, type Other } from './others.ts'
import { type Outline, sizeOf } from './outline.ts'
import { renderPatch } from './patch.ts'
import type { Prediction } from './predict.ts'
import { type Freedom, refinePose } from './refine.ts'
import { beforeBackground, type Scene, sceneBytes, scenesOf } from './scene.ts'
import {
  learnTemplate,
  levelFor,
  type Pose,
  placeError,
  pointOutline,
  renewTemplate,
  smearBetween,
  type Template,
  turned,
} from './template.ts'

/** How much a body's template may change from frame to frame. */
export const CHANGES = ['constant', 'slowly', 'quickly'] as const
export type Change = (typeof CHANGES)[number]

/** How far size and turn may go in one frame, and how much of a new template is taken over. */
const FREEDOM: Record<Change, Freedom & { renewal: number }> = {
  constant: { scale: 0.006, turn: 0.03, renewal: 0 },
  slowly: { scale: 0.015, turn: 0.08, renewal: 0.15 },
  quickly: { scale: 0.04, turn: 0.25, renewal: 0.6 },
}
/** A template is renewed at every so many sightings. */
const RENEWED = 3
/** Every so many renewals a template is drawn by this share to the first one, where that still scores so much of the typical. */
const DRIFT_LIMIT = { every: 2, pull: 0.3, score: 0.8, freedom: { scale: 0.002, turn: 0.01 } }
/**
 * Power of the share of a turn that the pixels told, by which it is expected to go on: of a plain ball, of which little is
 * told, it comes to rest instead of running away.
 */
const PERSISTS = 3
/** Noise that is reckoned with where it is not known, in steps of brightness. */
const USUAL_NOISE = 3
/** Share of the needed score below which it is not looked any closer. */
const MAYBE = 0.6
/** What a part that fits counts for, against the whole. */
const HELD = 0.95
/** A body that is smeared by more than this share of its own width is a streak. */
const STREAK = 0.3
/**
 * Difference of the background's mean brightness, in grey levels, from where the body was shown, and share of the typical score: above the
 * first and below the second the body is matched against the known background as well.
 */
const UNFAMILIAR = { light: 30, score: 0.95, better: 0.04 }
/** Templates that are kept, the last one first. */
const MOST_LOOKS = 4

/** Search for a template. Lengths are in the frame's pixels. */
export interface TemplateSearch {
  /** How the body lay when it was seen last. */
  pose: Pose
  predicted: Prediction
  radius: number
  /** Way that the body goes while the shutter is open. */
  smear: Point
  /** Least score that is taken for the body. */
  needed: number
  change: Change
  others: readonly Other[]
}

/** The best match of a template in a frame. */
export interface TemplateMatch {
  /** Place of the body's point. */
  place: Point
  scale: number
  turn: number
  /** Score of the whole, or of the part that is not hidden. */
  strength: number
  /** Another place that it could be as well. */
  rival: Point | null
  template: Template
  found: Found
  /** The frame at the template's size, and at full size. */
  scenes: { coarse: Scene; fine: Scene }
}

/** Finds a body by its brightness pattern in earlier frames. */
export class TemplateMatcher {
  /** How often the picture is halved for the whole of the body. */
  readonly level: number
  /** Score that it typically has; NaN until it was found once. */
  typicalScore = Number.NaN
  /** Standard deviation of one frame's noise. */
  private readonly noise: number
  private templates: Template[] = []
  /** The template that was learned where it was shown: what later ones are held against, so that none drifts. */
  private first!: Template
  private sightings = 0
  /** The part of the body around its point that tells the place better than the whole; null where none does. */
  private point: { template: Template; first: Template } | null = null
  /** Standard error, in pixels, with which the body's pattern tells its place where it tells least. */
  placeError = Number.POSITIVE_INFINITY
  /** Mean brightness of the background where the body was shown; NaN where that is not known. */
  private learnedLight = Number.NaN
  /** Turn, and growth of the logarithm of the size, from one sighting to the next. */
  private turnStep = 0
  private growthStep = 0

  constructor(
    outline: Outline,
    private readonly background: Background | null,
  ) {
    this.level = levelFor(outline, LEVELS - 1)
    this.noise = background?.noise ?? USUAL_NOISE
  }

  /** Learns how the body looks where it was shown; looks of before are kept. */
  learn(plane: Plane, at: Point, outline: Outline): void {
    const part = pointOutline(plane, at, outline, this.noise)
    const point = part && learnTemplate(plane, at, part, 0)
    this.point = point && { template: point, first: point }
    this.first = learnTemplate(plane, at, outline, this.level)
    this.placeError = placeError(this.first, outline, this.noise)
    this.templates = [this.first, ...this.templates].slice(0, MOST_LOOKS)
    this.learnedLight = this.lightBehind(at, sizeOf(outline))
    this.turnStep = 0
    this.growthStep = 0
  }

  /** The best match within the reach; null if nothing there scores what is needed. */
  find(
    plane: Plane,
    outline: Outline,
    { pose, predicted, radius, smear, needed, change, others }: TemplateSearch,
  ): TemplateMatch | null {
    const by = 2 ** this.level
    // Of such a streak it has to be reckoned with what shines through it.
    const isStreak = Math.hypot(smear.x, smear.y) > STREAK * 2 * sizeOf(outline) * pose.scale
    const plain = scenesOf(plane, LEVELS)
    const expected: Pose = {
      x: predicted.x / by,
      y: predicted.y / by,
      scale: pose.scale * Math.exp(this.growthStep),
      turn: pose.turn + this.turnStep,
    }
    const search = {
      expected,
      predicted,
      by,
      noise: this.noise,
      typical: this.typicalScore,
      needed,
      reach: radius / by,
      freedom: FREEDOM[change],
      isTaken: ({ x, y }: Point) => isTaken({ x: x * by, y: y * by }, predicted, others),
    }
    const smeared = { ...search, smear: this.atLevel(smear) }
    const { background } = this
    const bestBefore = (known: Background) => this.bestMatch(beforeBackground(plain, known), smeared)
    let best = background && isStreak ? bestBefore(background) : this.bestMatch(plain, smeared)
    if (background && best && !isStreak && this.isUnfamiliar(predicted, outline, pose, best.found)) {
      const other = bestBefore(background)
      if (other && other.found.worth > best.found.worth + UNFAMILIAR.better) best = other
    }
    if (!best || best.found.strength < MAYBE * needed) return null
    const { found, template } = best
    const coarse = { ...found.refined.pose, x: found.refined.pose.x * by, y: found.refined.pose.y * by }
    const fine = this.point && findPoint(plain[0], this.point.template, { ...search, whole: coarse, smear })
    const { x, y } = fine ?? coarse
    const off = Math.hypot(x - predicted.x, y - predicted.y) / predicted.error
    // Where the part around the point fits well and lies as expected, the rest of the body may look otherwise.
    const held = fine && off < NEARER ? HELD * fine.score : 0
    const strength = Math.max(found.strength, held)
    if (strength < needed) return null
    const { scale, turn } = coarse
    return {
      place: { x, y },
      scale,
      turn,
      strength,
      template,
      found,
      rival: found.rival && { x: found.rival.x * by, y: found.rival.y * by },
      scenes: { coarse: best.scene, fine: plain[0] },
    }
  }

  /**
   * Learns from a match that was accepted as the body.
   *
   * @param before how the body lay in the sighting before
   */
  accept(
    { place, template, found, scenes }: TemplateMatch,
    before: Pose,
    smear: Point,
    change: Change,
  ): void {
    const { pose, score, turnInformation: turnTold } = found.refined
    const { coarse, fine } = scenes
    this.typicalScore = Number.isNaN(this.typicalScore)
      ? score
      : 0.9 * this.typicalScore + 0.1 * Math.max(score, 0.8 * this.typicalScore)
    this.turnStep = turnTold ** PERSISTS * (0.5 * this.turnStep + 0.5 * (pose.turn - before.turn))
    this.growthStep = 0.7 * this.growthStep + 0.3 * Math.log(pose.scale / before.scale)
    const { renewal } = FREEDOM[change]
    const isWhole = found.refined.visible.share > 0.9 && score > 0.9 * this.typicalScore
    let renewed = template
    if (isWhole) this.sightings++
    if (renewal > 0 && isWhole && this.sightings % RENEWED === 0) {
      const along = this.atLevel(smear)
      renewed = renewTemplate(template, coarse, pose, along, renewal)
      const isHeld = this.sightings % (RENEWED * DRIFT_LIMIT.every) === 0
      if (isHeld) renewed = this.withLimitedDrift(renewed, this.first, coarse, pose, along)
      if (this.point) {
        const at = { ...pose, ...place }
        const held = renewTemplate(this.point.template, fine, at, smear, renewal)
        this.point.template = isHeld ? this.withLimitedDrift(held, this.point.first, fine, at, smear) : held
      }
    }
    this.templates = [renewed, ...this.templates.filter((other) => other !== template)]
  }

  /** Returns the best match of all templates, the first one that scores about as usual, with the scene at their size. */
  private bestMatch(
    all: readonly Scene[],
    search: Search,
  ): { template: Template; found: Found; scene: Scene } | null {
    const scenes = all.slice(this.level)
    let best: { template: Template; found: Found; scene: Scene } | null = null
    for (const template of this.templates) {
      const found = findTemplate(scenes, template, search)
      if (found && (!best || found.worth > best.found.worth)) best = { template, found, scene: scenes[0] }
      if (best && best.found.refined.score > 0.9 * (this.typicalScore || 1)) break
    }
    return best
  }

  /**
   * Returns true if the body has come before another background: the template's surroundings are those of the place where it was
   * learned, and a match that has to explain them is drawn away from the body.
   */
  private isUnfamiliar(at: Point, outline: Outline, { scale }: Pose, { strength }: Found): boolean {
    if (!(strength < UNFAMILIAR.score * this.typicalScore)) return false
    return Math.abs(this.lightBehind(at, scale * sizeOf(outline)) - this.learnedLight) > UNFAMILIAR.light
  }

  /** Returns the mean brightness of the background behind a body; NaN where that is not known. */
  private lightBehind(at: Point, halfWidth: number): number {
    const { background } = this
    if (!background || !isKnownBehind(background, at, halfWidth)) return Number.NaN
    return meanLight(background, at, halfWidth)
  }

  /** Sets the smear of the templates that were learned where the body was shown, once it is known. */
  learnSmear(smear: Point): void {
    const isKnown = (one: Template) => one.smear.x !== 0 || one.smear.y !== 0
    for (const one of [this.templates[0], this.point?.template])
      if (one && !isKnown(one)) one.smear = { x: smear.x / 2 ** one.level, y: smear.y / 2 ** one.level }
  }

  /** Returns the look as the body lies in a pose, in brightness, and how many pixels of the frame each of its pixels has. */
  rendered({ x, y, scale, turn }: Pose): { plane: Plane; each: number } {
    const each = 2 ** this.level
    const pose = { x: x / each, y: y / each, scale, turn }
    return withArena(sceneBytes({ ...pose, width: 0, height: 0 }, 0), () => {
      const { width, height, anchor, seen } = renderPatch(this.templates[0], pose, { x: 0, y: 0 }, false)
      return {
        plane: {
          width,
          height,
          x: Math.round(pose.x - anchor.x),
          y: Math.round(pose.y - anchor.y),
          data: Uint8Array.from(seen, (light) => Math.min(255, Math.max(0, light))),
        },
        each,
      }
    })
  }

  /** Returns a way in the frame's pixels, in those of the template. */
  private atLevel({ x, y }: Point): Point {
    return { x: x / 2 ** this.level, y: y / 2 ** this.level }
  }

  /** A template whose point is drawn back to where the first template has it, as far as that still fits. */
  private withLimitedDrift(
    template: Template,
    first: Template,
    scene: Scene,
    pose: Pose,
    smear: Point,
  ): Template {
    const smearing = smearBetween(turned(first.smear, pose.turn), smear)
    const patch = renderPatch(first, pose, smearing, scene.known !== null)
    const held = refinePose(scene, patch, pose, DRIFT_LIMIT.freedom, this.noise / 2 ** template.level)
    if (!held || held.score < DRIFT_LIMIT.score * this.typicalScore) return template
    const off = turned({ x: held.pose.x - pose.x, y: held.pose.y - pose.y }, -pose.turn)
    return {
      ...template,
      anchor: {
        x: template.anchor.x + (DRIFT_LIMIT.pull * off.x) / pose.scale,
        y: template.anchor.y + (DRIFT_LIMIT.pull * off.y) / pose.scale,
      },
    }
  }
}
