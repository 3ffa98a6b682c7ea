import {
  fitSimilarity,
  followedBy,
  type Similarity,
  similarityStep,
  turnOf,
  UNMOVED,
  zoomOf,
} from '../geometry/index.ts'
import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import { type Luma, lumaBetween } from './luma.ts'
import { blockMoments, blockShifts, LEAST_BLOCKS } from './shake.ts'

/** Motion of the camera over a clip, measured on the static background. */
export interface CameraSurvey {
  /** Farthest that the middle of the picture went, as a share of its width. */
  shift: number
  /** Largest over smallest scale of the picture, less 1. */
  zoom: number
  /** Largest difference of its roll, in radians. */
  roll: number
}

/** Proposed answer to what the camera did; see `proposedCamera`. */
export type ProposedCamera = 'still' | 'turned' | 'zoomed' | 'tilted'

/** More than this is no shake and no noise any more. */
const STILL = { shift: 0.01, zoom: 0.02, roll: (0.6 * Math.PI) / 180 }

/** Returns a picture as it is seen through a similarity, between its pixels by their nearest four. */
function seenThrough(picture: Luma, { a, b, x, y }: Similarity): Luma {
  const { width, height } = picture
  const seen = new Uint8Array(width * height)
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      const u = Math.min(width - 1.001, Math.max(0, a * column - b * row + x))
      const v = Math.min(height - 1.001, Math.max(0, b * column + a * row + y))
      seen[row * width + column] = lumaBetween(picture, u, v) + 0.5
    }
  return { width, height, data: seen }
}

/**
 * Returns how a picture's background moved from one frame to the next. Where it moved noticeably, what was found is
 * undone and the rest is found once more: a single step of least squares falls short for larger shifts.
 * Null where there is too little texture.
 */
export function cameraStep(before: Luma, after: Luma): Similarity | null {
  let found = backgroundStep(before, after)
  for (let round = 0; round < 2 && found && isNoticeable(found); round++) {
    const rest = backgroundStep(before, seenThrough(after, found))
    if (!rest) break
    found = followedBy(rest, found)
  }
  return found
}

const isNoticeable = ({ a, b, x, y }: Similarity) => Math.hypot(x, y) + 160 * Math.hypot(a - 1, b) > 0.2

/**
 * Returns the similarity of least squares through the shifts of a picture's textured blocks, without those that go
 * another way (more than 2.5 scaled median absolute residuals), so that what moves in front does not count.
 */
function backgroundStep(before: Luma, after: Luma): Similarity | null {
  let blocks = blockShifts(before, after)
  if (blocks.length < LEAST_BLOCKS) return null
  // To begin with, what most of them do.
  const middle = (axis: 'x' | 'y') => median(blocks.map(({ by }) => by[axis]))
  let found: Similarity | null = { ...UNMOVED, x: middle('x'), y: middle('y') }
  for (let round = 0; round < 5; round++) {
    const { forward } = similarityStep(found)
    const residuals = blocks.map(({ at, by }) => {
      const to = forward(at)
      return Math.hypot(to.x - at.x - by.x, to.y - at.y - by.y)
    })
    const most = Math.max(0.02, 2.5 * MAD_TO_DEVIATION * median(residuals))
    blocks = blocks.filter((_, i) => residuals[i] <= most)
    found = fitSimilarity(
      blocks.map(({ at }) => at),
      blocks.map(({ at, by }) => ({ x: at.x + by.x, y: at.y + by.y })),
      'tilted',
    )
    if (!found || blocks.length < LEAST_BLOCKS) return null
  }
  return found
}

/** Frames from one comparison with the first frame to the next. */
const COMPARE_EVERY = 8
/** Mean square of the gradient from which a block tells whether it has moved. */
const TEXTURED = 12
/** A block is unchanged if it differs by less than a shift of so many square small pixels would make. */
const UNCHANGED = 0.5
/** Share of the blocks that are unchanged in nearly all comparisons (all but so many) if the camera stands still. */
const STANDING = { blocks: 0.4, exceptions: 0.05 }

/**
 * Returns the share of a picture's textured blocks that are unchanged in another, apart from their mean brightness; null where there
 * are hardly any. Blocks with an edge in one direction count as well, unlike for a measured shift.
 */
function unchangedShare(reference: Luma, frame: Luma): number | null {
  const textured = blockMoments(reference, frame).filter(({ xx, yy }) => (xx + yy) / 2 >= TEXTURED)
  if (textured.length < LEAST_BLOCKS) return null
  const unchanged = textured.filter(
    ({ xx, yy, change, squared }) => squared - change ** 2 < (UNCHANGED * (xx + yy)) / 2,
  )
  return unchanged.length / textured.length
}

/** Gradient along a direction from which a pixel is part of an edge across it, in grey levels a pixel. */
const EDGE = 10
/** Largest relative change of an edge pixel's gradient that counts as none. */
const SAME_EDGE = 0.5
/** Edge pixels across a direction below which they tell nothing of a shift along it. */
const FEWEST_EDGES = 100
/**
 * Share of the edge pixels that are unchanged in nearly all comparisons if the camera stands still: below `moving` it does not, though
 * blocks with edges along its way are unchanged; from `alone` on it does before a wall without blocks.
 */
const STANDING_EDGES = { moving: 0.05, alone: 0.2 }

/**
 * Returns the share of a picture's edge pixels that are unchanged in another: of edges across x or across y, whichever is less. Null
 * where there are hardly any.
 */
function unchangedEdges(reference: Luma, frame: Luma): number | null {
  const { width, height } = reference
  const shares = [1, width].flatMap((step) => {
    let [edges, unchanged] = [0, 0]
    for (let y = 1; y < height - 1; y++)
      for (let x = 1, at = y * width + 1; x < width - 1; x++, at++) {
        const gradient = reference.data[at + step] - reference.data[at - step]
        if (Math.abs(gradient) < 2 * EDGE) continue
        edges++
        const change = frame.data[at + step] - frame.data[at - step] - gradient
        if (Math.abs(change) < SAME_EDGE * Math.abs(gradient)) unchanged++
      }
    return edges < FEWEST_EDGES ? [] : unchanged / edges
  })
  return shares.length > 0 ? Math.min(...shares) : null
}

/** Returns the least of some shares, without the exceptions that are allowed; NaN of none. */
const leastOf = (shares: readonly number[]) =>
  [...shares].sort((a, b) => a - b)[Math.floor(STANDING.exceptions * shares.length)] ?? Number.NaN

/** Accumulates the camera's motion through a clip, step by step. */
export class CameraFollower {
  private first: Luma | null = null
  /** Shares of the textured blocks, and of the edge pixels, that were as in the first frame. */
  private readonly unchanged: number[] = []
  private readonly edges: number[] = []
  private frames = 0
  private whole: Similarity = UNMOVED
  private before: Luma | null = null
  private readonly seen = { x: [0], y: [0], zoom: [1], roll: [0] }
  private steps = 0
  private known = 0
  /** The similarity that takes a point of the first frame to where it is in each. */
  readonly motions: Similarity[] = []

  /** Takes the next frame. */
  add(frame: Luma): void {
    this.first ??= frame
    if (this.frames++ % COMPARE_EVERY === 1) {
      const share = unchangedShare(this.first, frame)
      if (share !== null) this.unchanged.push(share)
      const edges = unchangedEdges(this.first, frame)
      if (edges !== null) this.edges.push(edges)
    }
    const step = this.before && cameraStep(this.before, frame)
    if (this.before) this.steps++
    this.before = frame
    if (step) this.whole = followedBy(this.whole, step)
    this.motions.push(this.whole)
    if (!step) return
    this.known++
    const middle = { x: frame.width / 2, y: frame.height / 2 }
    const at = similarityStep(this.whole).forward(middle)
    this.seen.x.push((at.x - middle.x) / frame.width)
    this.seen.y.push((at.y - middle.y) / frame.width)
    this.seen.zoom.push(zoomOf(this.whole))
    this.seen.roll.push(turnOf(this.whole))
  }

  /**
   * Returns true if most of the picture stays where it was in the first frame. Steps from frame to frame alone don't tell: where
   * much moves in front of an even background, they are of what moves.
   */
  private isStanding(): boolean {
    const isContradicted = leastOf(this.edges) < STANDING_EDGES.moving
    return leastOf(this.unchanged) >= STANDING.blocks && !isContradicted
  }

  /** Returns what the camera did over all frames; null where most of them don't tell. */
  result(): CameraSurvey | null {
    if (this.isStanding()) return { shift: 0, zoom: 0, roll: 0 }
    if (this.steps < 2 || this.known < this.steps / 2)
      return leastOf(this.edges) >= STANDING_EDGES.alone ? { shift: 0, zoom: 0, roll: 0 } : null
    const reach = (values: number[]) => Math.max(...values) - Math.min(...values)
    const { x, y, zoom, roll } = this.seen
    return {
      shift: Math.hypot(reach(x), reach(y)),
      zoom: Math.max(...zoom) / Math.min(...zoom) - 1,
      roll: reach(roll),
    }
  }
}

/** Returns the camera motion that the static parts of the picture suggest. */
export function proposedCamera({ shift, zoom, roll }: CameraSurvey): ProposedCamera {
  if (roll > STILL.roll) return 'tilted'
  if (zoom > STILL.zoom) return 'zoomed'
  return shift > STILL.shift ? 'turned' : 'still'
}
