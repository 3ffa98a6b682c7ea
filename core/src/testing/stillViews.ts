import {
  type Background,
  backgroundOf,
  type Grid,
  gridLike,
  type Plane,
  valueAt,
} from '../following/index.ts'
import { type Homography, homographyStep, type Point, type Step } from '../geometry/index.ts'
import { normalSource, randomSource } from '../random/index.ts'

/** Size of the pictures. */
export const VIEW = { width: 640, height: 360 }
/** Pixels of a scene's texture for one of the picture, and how far it goes on beyond the picture's border. */
const FINE = 2
const BORDER = 80
const TEXTURE = {
  x: 0,
  y: 0,
  width: FINE * (VIEW.width + 2 * BORDER),
  height: FINE * (VIEW.height + 2 * BORDER),
}
/** Places within a pixel at which the scene is sampled. */
const SAMPLES = [0.25, 0.75].flatMap((y) => [0.25, 0.75].map((x) => ({ x, y })))

/** What stands still before a camera: what is far, and what is near, where there is something (1) or not (0). */
export interface StillScene {
  far: Grid
  near: Grid
  isNear: Grid
}

/** How a camera sees a scene. */
export interface View {
  /** Takes a point of the picture to the point of the scene's far part that is seen there. */
  toScene: (point: Point) => Point
  /** By how much what is near is shifted against what is far, in pixels of the picture. */
  parallax: Point
  gain: number
  offset: number
  /** Brightness added from the left to the right border. */
  slope: number
  noise: number
  /** Rectangles in front of it, as something that was put there. */
  covers: readonly { x: number; y: number; width: number; height: number; grey: number }[]
  seed: number
}

/** A camera that stands still in plain light. */
export const STILL: View = {
  toScene: (point) => point,
  parallax: { x: 0, y: 0 },
  gain: 1,
  offset: 0,
  slope: 0,
  noise: 2,
  covers: [],
  seed: 1,
}

/** Middle of the picture. */
const CENTRE: Point = { x: VIEW.width / 2, y: VIEW.height / 2 }

/**
 * Returns the map from a picture to the one that a camera takes after it turned and zoomed at its place, from its rotation matrix.
 *
 * @param pan about how far the middle moves, in pixels
 * @param roll in radians
 * @param focal focal length in pixels
 */
export function turned({ pan = { x: 0, y: 0 }, roll = 0, zoom = 1, focal = 600 }): Step {
  const angles = [Math.atan(pan.x / focal), Math.atan(pan.y / focal), roll]
  const [cx, cy, cz] = angles.map(Math.cos)
  const [sx, sy, sz] = angles.map(Math.sin)
  const rotation = [
    [cz * cx, -cz * sx * sy - sz * cy, cz * sx * cy - sz * sy],
    [sz * cx, -sz * sx * sy + cz * cy, sz * sx * cy + cz * sy],
    [-sx, -cx * sy, cx * cy],
  ]
  // K′ R K⁻¹ with the focal length in K and zoomed in K′.
  const entries = rotation.flatMap((row, i) =>
    row.map((one, k) => one * (i < 2 ? zoom * focal : 1) * (k < 2 ? 1 / focal : 1)),
  )
  const about = homographyStep(entries.map((one) => one / entries[8]) as Homography)
  const fromMiddle = ({ x, y }: Point) => ({ x: x - CENTRE.x, y: y - CENTRE.y })
  const placed = ({ x, y }: Point) => ({ x: x + CENTRE.x, y: y + CENTRE.y })
  return {
    forward: (point) => placed(about.forward(fromMiddle(point))),
    backward: (point) => placed(about.backward(fromMiddle(point))),
    jacobian: (point) => about.jacobian(fromMiddle(point)),
  }
}

/**
 * Returns a scene of painted walls, boxes, discs and striped posts at random.
 *
 * @param things number of things in it
 * @param inFront share of these that is near
 */
export function stillScene(seed: number, things = 60, inFront = 0.4): StillScene {
  const random = randomSource(seed)
  const between = (least: number, most: number) => least + (most - least) * random()
  const { width, height } = TEXTURE
  const far = emptyTexture()
  const horizon = height * between(0.4, 0.7)
  const [sky, sea] = [between(140, 210), between(60, 130)]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      far.data[y * width + x] = (y < horizon ? sky : sea) + 6 * Math.sin(x / 47 + y / 61) + (12 * x) / width
  const [near, isNear] = [emptyTexture(), emptyTexture()]
  for (let i = 0; i < things; i++) {
    const isInFront = i >= (1 - inFront) * things
    paint(randomThing(between), isInFront ? near : far, isInFront ? isNear : null)
  }
  return { far: softened(far), near: softened(near), isNear: softened(isNear) }
}

/** Returns a wall of small alike tiles, which does not tell by which of them a camera moved. */
export function tiledScene(): StillScene {
  const far = emptyTexture()
  const tile = FINE * 40
  for (let at = 0; at < far.data.length; at++) {
    const [x, y] = [at % far.width, Math.floor(at / far.width)]
    far.data[at] = x % tile < 4 || y % tile < 4 ? 60 : 160
  }
  return { far: softened(far), near: emptyTexture(), isNear: emptyTexture() }
}

const emptyTexture = () => gridLike(TEXTURE, new Float32Array(TEXTURE.width * TEXTURE.height))

/** A box, a disc or a striped post, in pixels of the texture. */
interface Thing {
  kind: 'box' | 'disc' | 'post'
  middle: Point
  half: Point
  turn: number
  greys: readonly [number, number]
  stripe: number
}

const KINDS = ['box', 'disc', 'post'] as const

/** Returns a thing at a random place. */
function randomThing(between: (least: number, most: number) => number): Thing {
  const kind = KINDS[Math.floor(between(0, 3))]
  const { width, height } = TEXTURE
  return {
    kind,
    middle: { x: between(0, width), y: between(0.15 * height, height) },
    half:
      kind === 'post'
        ? { x: between(6, 12), y: between(60, 200) }
        : { x: between(10, 90), y: between(10, 70) },
    turn: between(-0.3, 0.3),
    greys: [between(20, 235), between(20, 235)],
    stripe: between(12, 40),
  }
}

/** Paints a thing, and where it is. */
function paint({ kind, middle, half, turn, greys, stripe }: Thing, grid: Grid, mask: Grid | null): void {
  const { width, height } = grid
  const reach = Math.ceil(Math.hypot(half.x, half.y))
  for (let y = Math.max(0, Math.floor(middle.y - reach)); y < Math.min(height, middle.y + reach); y++)
    for (let x = Math.max(0, Math.floor(middle.x - reach)); x < Math.min(width, middle.x + reach); x++) {
      const [dx, dy] = [x - middle.x, y - middle.y]
      const [u, v] = [Math.cos(turn) * dx + Math.sin(turn) * dy, Math.cos(turn) * dy - Math.sin(turn) * dx]
      const isInside =
        kind === 'disc'
          ? (u / half.x) ** 2 + (v / half.y) ** 2 < 1
          : Math.abs(u) < half.x && Math.abs(v) < half.y
      if (!isInside) continue
      const isOther = kind === 'post' && Math.floor((v + half.y) / stripe) % 2 === 1
      grid.data[y * width + x] = greys[isOther ? 1 : 0]
      if (mask) mask.data[y * width + x] = 1
    }
}

/** Returns a scene of far things with an upright striped stick before them, and the stick's ends in the picture. */
export function sceneWithStick(seed: number): { scene: StillScene; ends: Point[] } {
  const { far } = stillScene(seed, 60, 0)
  const [near, isNear] = [emptyTexture(), emptyTexture()]
  const fine = ({ x, y }: Point) => ({ x: FINE * (x + BORDER), y: FINE * (y + BORDER) })
  const [middle, length] = [{ x: 420, y: 180 }, 120]
  const half = { x: 7 * FINE, y: (length / 2) * FINE }
  paint(
    { kind: 'post', middle: fine(middle), half, turn: 0, greys: [40, 220], stripe: 12 * FINE },
    near,
    isNear,
  )
  return {
    scene: { far, near: softened(near), isNear: softened(isNear) },
    ends: [-1, 1].map((side) => ({ x: middle.x, y: middle.y + (side * length) / 2 })),
  }
}

/** Returns a grid blurred with a binomial kernel of 5 × 5, as a lens does. */
function softened(grid: Grid): Grid {
  const { width, height } = grid
  const weights = [1, 4, 6, 4, 1]
  const pass = (data: Float32Array, step: number) => {
    const blurred = data.slice()
    for (let at = 2 * step; at < data.length - 2 * step; at++) {
      let sum = 0
      for (let k = -2; k <= 2; k++) sum += weights[k + 2] * data[at + k * step]
      blurred[at] = sum / 16
    }
    return blurred
  }
  return gridLike({ x: 0, y: 0, width, height }, pass(pass(grid.data, 1), width))
}

/** Returns the background that is learned of a scene from five frames with a standing camera. */
export function backgroundSeen(scene: StillScene, view: View): Background {
  const { width, height } = VIEW
  const clean = new Float32Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const cover = view.covers.find(
        (one) => x >= one.x && y >= one.y && x < one.x + one.width && y < one.y + one.height,
      )
      const seen = SAMPLES.reduce(
        (sum, { x: dx, y: dy }) => sum + brightnessAt(scene, view, x + dx, y + dy),
        0,
      )
      clean[y * width + x] = cover ? cover.grey : seen / SAMPLES.length
    }
  const normal = normalSource(randomSource(view.seed))
  const frames = Array.from({ length: 5 }, (): Plane => {
    const data = new Uint8Array(width * height)
    for (let at = 0; at < data.length; at++) {
      const light = view.gain * clean[at] + view.offset + (view.slope * (at % width)) / width
      data[at] = Math.min(255, Math.max(0, Math.round(light + view.noise * normal())))
    }
    return { x: 0, y: 0, width, height, data }
  })
  return backgroundOf(frames)
}

/** Returns the brightness that a view has at a point of the picture; black beyond the scene. */
function brightnessAt({ far, near, isNear }: StillScene, view: View, x: number, y: number): number {
  const at = view.toScene({ x, y })
  const value = (grid: Grid, px: number, py: number) =>
    valueAt(grid, FINE * (px + BORDER), FINE * (py + BORDER)) || 0
  const [u, v] = [at.x - view.parallax.x, at.y - view.parallax.y]
  const cover = value(isNear, u, v)
  return (1 - cover) * value(far, at.x, at.y) + value(near, u, v)
}
