import type { Point } from '../geometry/index.ts'
import { overlap, type Plane, type Rect, rectAround } from './grid.ts'
import { isTaken, type Other, WIDENED } from './others.ts'
import { OutlineError } from './outline.ts'
import { Predictor } from './predict.ts'
import type { Following, FollowSettings, Reach, Sighting } from './sighting.ts'

/** Part of a frame's colours: red, green, blue and opacity of each pixel, row by row. */
export type ColourPlane = Plane

/** A colour apart from how brightly it is lit: how red and how blue it is for its brightness, and that brightness. */
interface Colour {
  red: number
  blue: number
  light: number
}

/** A colour with how far it varies over what it was learned from. */
interface Learned {
  mean: Colour
  spread: Colour
}

/** Pixels around a click that tell the colour. */
const PICKED = 2
/** A colour varies at least by so much: noise and compression see to that. */
const LEAST_SPREAD: Colour = { red: 0.06, blue: 0.06, light: 30 }
/** Pixels within so many deviations are of the colour. */
const ALIKE = 3
/** How far a sticker may reach, in pixels from the click. */
const LARGEST = 120
/** Fewer pixels than this are none. */
const LEAST_AREA = 6
/** Where more than this share of what is around a sticker has its colour, the colour tells nothing. */
const MOST_AROUND = 0.2
/** Size of a blob against the typical one: what is too small is hidden or something else, what is too large is two. */
const AREA = { early: 0.5, late: 0.25, most: 1.7 }
/** Share by which the colour and the size are renewed at each sighting, by how much the template may change. */
const RENEWAL = { constant: 0, slowly: 0.05, quickly: 0.25 }
/** Deviations of the prediction by which one of two blobs must be nearer to be the one. */
const NEARER = 4
/** How far from where it is expected a body may turn up again: in pixels, and in deviations of the prediction. */
const AGAIN = { pixels: 8, deviations: 4 }
/** Added to the brightness, so that the colour of what is dark is not all noise. */
const DARK = 24

function colourAt({ data }: ColourPlane, at: number): Colour {
  const [r, g, b] = [data[4 * at], data[4 * at + 1], data[4 * at + 2]]
  const light = 0.2126 * r + 0.7152 * g + 0.0722 * b
  return { red: (r - light) / (light + DARK), blue: (b - light) / (light + DARK), light }
}

/** Returns how far a pixel's colour is from a learned one, in its deviations; brightness counts for less. */
function distanceTo({ mean, spread }: Learned, { red, blue, light }: Colour): number {
  return Math.hypot(
    (red - mean.red) / spread.red,
    (blue - mean.blue) / spread.blue,
    (0.5 * (light - mean.light)) / spread.light,
  )
}

function learned(plane: ColourPlane, at: Point): Learned {
  const { x, y, width, height } = overlap(plane, {
    x: Math.floor(at.x) - PICKED,
    y: Math.floor(at.y) - PICKED,
    width: 2 * PICKED + 1,
    height: 2 * PICKED + 1,
  })
  const colours: Colour[] = []
  for (let row = y; row < y + height; row++)
    for (let column = x; column < x + width; column++)
      colours.push(colourAt(plane, (row - plane.y) * plane.width + column - plane.x))
  const over = (key: keyof Colour) => colours.map((colour) => colour[key]).sort((a, b) => a - b)
  const middle = (key: keyof Colour) => over(key)[colours.length >> 1]
  const range = (key: keyof Colour) => {
    const sorted = over(key)
    const [low, high] = [sorted[Math.floor(0.16 * sorted.length)], sorted[Math.floor(0.84 * sorted.length)]]
    return Math.max(LEAST_SPREAD[key], (high - low) / 2)
  }
  return {
    mean: { red: middle('red'), blue: middle('blue'), light: middle('light') },
    spread: { red: range('red'), blue: range('blue'), light: range('light') },
  }
}

/** Pixels of a colour that hang together. */
interface Blob extends Point {
  area: number
  colour: Colour
}

/**
 * Blobs of a colour in a plane, each with its centroid. A pixel counts by how near its colour is, down to nothing
 * at the limit, so that pixels along the border, which have something of both, count in part.
 */
function blobsIn(plane: ColourPlane, colour: Learned): Blob[] {
  const { width, height } = plane
  const counts = new Float32Array(width * height)
  for (let at = 0; at < counts.length; at++) {
    const off = distanceTo(colour, colourAt(plane, at))
    if (off < ALIKE) counts[at] = Math.min(1, 2 * (1 - off / ALIKE))
  }
  const isTaken = new Uint8Array(counts.length)
  const blobs: Blob[] = []
  const stack: number[] = []
  for (let seed = 0; seed < counts.length; seed++) {
    if (isTaken[seed] || counts[seed] < 0.5) continue
    const sum = { all: 0, x: 0, y: 0, red: 0, blue: 0, light: 0 }
    isTaken[seed] = 1
    stack.push(seed)
    while (stack.length > 0) {
      const at = stack.pop()!
      const [column, row] = [at % width, Math.floor(at / width)]
      const count = counts[at]
      const { red, blue, light } = colourAt(plane, at)
      sum.all += count
      sum.x += count * (plane.x + column + 0.5)
      sum.y += count * (plane.y + row + 0.5)
      sum.red += count * red
      sum.blue += count * blue
      sum.light += count * light
      for (const [next, isInside] of [
        [at - 1, column > 0],
        [at + 1, column + 1 < width],
        [at - width, row > 0],
        [at + width, row + 1 < height],
      ] as const)
        if (isInside && !isTaken[next] && counts[next] > 0) {
          isTaken[next] = 1
          stack.push(next)
        }
    }
    if (sum.all < LEAST_AREA) continue
    blobs.push({
      area: sum.all,
      x: sum.x / sum.all,
      y: sum.y / sum.all,
      colour: { red: sum.red / sum.all, blue: sum.blue / sum.all, light: sum.light / sum.all },
    })
  }
  return blobs
}

/** Returns the part of a frame that a body's colour is learned from. */
export function colourReach(at: Point): Rect {
  return rectAround(at, { x: LARGEST, y: LARGEST }, 2)
}

/**
 * Follows a body by the colour of something on it, such as a sticker or a bright ball. The position is the centroid
 * of the blob of that colour nearest to the prediction, offset to the point that was clicked.
 */
export class ColourFollower implements Following {
  private readonly predictor = new Predictor()
  private colour!: Learned
  private typical = 0
  /** From the blob's centroid to the body's point. */
  private offset: Point = { x: 0, y: 0 }
  private wide = 1
  private misses = 0
  private lastTime: number
  private seen: Point

  /**
   * @param plane of the first frame, as large as `colourReach` asks for
   * @throws OutlineError where the colour does not tell the body from what is around it
   */
  constructor(
    plane: ColourPlane,
    at: Point,
    time: number,
    private readonly picture: { width: number; height: number },
    public settings: FollowSettings,
    before: (Point & { time: number })[] = [],
  ) {
    this.learn(plane, at)
    for (const { time: when, ...where } of before) this.predictor.add(when, where)
    this.predictor.add(time, at)
    this.lastTime = time
    this.seen = { x: at.x, y: at.y }
  }

  /** Returns where the body is looked for at a time, and what part of the frame that needs. */
  reach(time: number): Reach {
    const predicted = this.predictor.at(time)
    const radius = this.radiusAt(time)
    const size = Math.sqrt(this.typical)
    const around = radius + size + Math.hypot(this.offset.x, this.offset.y)
    return {
      at: { x: predicted.x, y: predicted.y },
      radius,
      rect: overlap(rectAround(predicted, { x: around, y: around }, 2), { x: 0, y: 0, ...this.picture }),
      by: predicted.by,
    }
  }

  /** Looks farther, within the same frame, where nothing was found. */
  widen(): void {
    this.wide = Math.min(3, WIDENED * this.wide)
  }

  /**
   * Looks for the body in a frame. What is found is learned from; what is not changes nothing.
   *
   * @param plane the part of the frame that `reach` asked for
   * @param others bodies that are followed in the same frame, whose places are not its own
   */
  see(plane: ColourPlane, time: number, others: readonly Other[] = []): Sighting {
    const predicted = this.predictor.at(time)
    const at = { x: predicted.x, y: predicted.y }
    const { width, height } = this.picture
    const isOutside = (point: Point, by: number) =>
      point.x < -by || point.y < -by || point.x > width + by || point.y > height + by
    if (Number.isFinite(predicted.error) && isOutside(at, predicted.error)) return { kind: 'left', at }
    const { persistence, change } = this.settings
    const least = (AREA.early + (AREA.late - AREA.early) * persistence) * this.typical
    const radius = this.radiusAt(time)
    const deviation = Number.isFinite(predicted.error) ? predicted.error : radius
    const found = blobsIn(plane, this.colour)
      .filter(({ area }) => area >= least && area <= AREA.most * this.typical)
      .map((blob) => {
        const place = { x: blob.x + this.offset.x, y: blob.y + this.offset.y }
        return { blob, place, off: Math.hypot(place.x - at.x, place.y - at.y) }
      })
      // After a gap, what is not where the prediction allows is something else.
      .filter(({ off }) => this.misses === 0 || off <= Math.max(AGAIN.pixels, AGAIN.deviations * deviation))
      .filter(({ off, place }) => off <= radius && !isTaken(place, at, others))
      .sort((a, b) => a.off - b.off)
    const [best, second] = found
    if (!best) {
      this.misses++
      return { kind: 'hidden', at }
    }
    if (second && (second.off - best.off) / deviation < NEARER)
      return { kind: 'two', at, places: [best.place, second.place] }
    const share = best.blob.area / this.typical
    const certainty = Math.min(1, share, 1 / share)
    this.accept(best, time, RENEWAL[change])
    return {
      kind: 'found',
      at: best.place,
      certainty,
      pose: { ...best.place, scale: 1, turn: 0 },
      by: predicted.by,
      byOutline: false,
    }
  }

  /** Is shown where the body is: from here on it goes on with what it learns there. */
  show(plane: ColourPlane, time: number, at: Point): void {
    this.learn(plane, at)
    this.predictor.restart(time, at)
    this.lastTime = time
    this.seen = { x: at.x, y: at.y }
    this.wide = 1
    this.misses = 0
  }

  /** Returns the rectangle of a frame that `show` needs. */
  showReach(at: Point): Rect {
    return colourReach(at)
  }

  place(): Other {
    return { ...this.seen, size: Math.sqrt(this.typical / Math.PI) }
  }

  private accept({ blob, place }: { blob: Blob; place: Point }, time: number, renewal: number): void {
    this.typical += renewal * (blob.area - this.typical)
    const { mean } = this.colour
    for (const key of ['red', 'blue', 'light'] as const) mean[key] += renewal * (blob.colour[key] - mean[key])
    this.predictor.add(time, place)
    this.lastTime = time
    this.seen = place
    this.wide = 1
    this.misses = 0
  }

  private radiusAt(time: number): number {
    const predicted = this.predictor.at(time)
    const seconds = Math.abs(time - this.lastTime)
    const step = Math.hypot(predicted.velocity.x, predicted.velocity.y) * seconds
    const first = Math.max(40, 2.5 * Math.sqrt(this.typical))
    const reach = Number.isFinite(predicted.error) ? 8 + 4 * predicted.error + 0.8 * step : first + 0.8 * step
    const most = Math.max(this.picture.width, this.picture.height)
    return Math.min(most, reach * this.wide * (1 + 0.3 * this.misses))
  }

  private learn(plane: ColourPlane, at: Point): void {
    this.colour = learned(plane, at)
    const blobs = blobsIn(plane, this.colour)
    const own = blobs.sort(
      (a, b) => Math.hypot(a.x - at.x, a.y - at.y) - Math.hypot(b.x - at.x, b.y - at.y),
    )[0]
    if (!own) throw new OutlineError({ code: 'too-few-pixels' })
    const radius = Math.sqrt(own.area / Math.PI)
    if (radius > LARGEST / 2 || this.around(plane, own, radius) > MOST_AROUND)
      throw new OutlineError({ code: 'same-colour-around' })
    this.typical = own.area
    this.offset = { x: at.x - own.x, y: at.y - own.y }
  }

  /** Returns the share of the pixels around a blob, outside of it, that have its colour, too. */
  private around(plane: ColourPlane, { x, y }: Point, radius: number): number {
    let [alike, all] = [0, 0]
    const [near, far] = [1.6 * radius + 2, 2.6 * radius + 4]
    const part = overlap(plane, rectAround({ x, y }, { x: far, y: far }, 1))
    for (let row = part.y; row < part.y + part.height; row++)
      for (let column = part.x; column < part.x + part.width; column++) {
        const away = Math.hypot(column + 0.5 - x, row + 0.5 - y)
        if (away < near || away > far) continue
        all++
        const at = (row - plane.y) * plane.width + column - plane.x
        if (distanceTo(this.colour, colourAt(plane, at)) < ALIKE / 2) alike++
      }
    return all > 0 ? alike / all : 0
  }
}
