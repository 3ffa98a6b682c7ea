import {
  distance,
  fitSimilarity,
  type Point,
  type Similarity,
  similarityStep,
  turnOf,
  zoomOf,
} from '../geometry/index.ts'
import { randomSource } from '../random/index.ts'
import type { Candidate } from './matches.ts'

/** A corner of one picture with its candidates in another one. */
export interface CornerCandidates {
  corner: Point
  candidates: readonly Candidate[]
}

/** Pairs of corners that are tried. */
const TRIALS = 1500
/** A candidate agrees with a similarity if it lies at most so far from where the corner is taken, in pixels. */
const AGREES = 1.5
/** Motions that are looked for: of the zoom either way, and of the turn in radians. */
const MOST = { zoom: 1.12, turn: (5 * Math.PI) / 180 }
/** Two corners closer than this share of the picture's width tell too little of zoom and turn. */
const LEAST_BASE = 0.1
/** Places that are farther apart than this, in pixels, are different ones. */
const DIFFERENT = 3

/** The similarity that most corners agree with. */
export interface Consensus {
  similarity: Similarity
  /** Number of corners that have a candidate which agrees. */
  agreeing: number
  /** Largest number of corners that agree with another similarity at a different place each. */
  second: number
}

/**
 * Returns the similarity that most corners agree with (random sample consensus, Fischler and Bolles, Comm. ACM 24 (1981) 381), fitted
 * to these; null if no two corners agree. The random numbers are the same in every call.
 */
export function consensusOf(
  corners: readonly CornerCandidates[],
  size: { width: number; height: number },
): Consensus | null {
  const random = randomSource(1)
  const usable = corners.filter(({ candidates }) => candidates.length > 0)
  if (usable.length < 2) return null
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]
  const tried: { similarity: Similarity; agreeing: number }[] = []
  for (let trial = 0; trial < TRIALS; trial++) {
    const [first, second] = [pick(usable), pick(usable)]
    if (distance(first.corner, second.corner) < LEAST_BASE * size.width) continue
    const similarity = fitSimilarity(
      [first.corner, second.corner],
      [pick(first.candidates).at, pick(second.candidates).at],
      'tilted',
    )
    if (similarity && isPossible(similarity))
      tried.push({ similarity, agreeing: agreeingPairs(usable, similarity).length })
  }
  if (tried.length === 0) return null
  const best = tried.reduce((most, one) => (one.agreeing > most.agreeing ? one : most))
  const similarity = refined(usable, best.similarity)
  const { forward } = similarityStep(similarity)
  const elsewhere = tried.map(
    (one) =>
      agreeingPairs(usable, one.similarity).filter(({ from, to }) => distance(forward(from), to) > DIFFERENT)
        .length,
  )
  return {
    similarity,
    agreeing: agreeingPairs(usable, similarity).length,
    second: Math.max(...elsewhere),
  }
}

function isPossible(similarity: Similarity): boolean {
  return (
    Math.abs(Math.log(zoomOf(similarity))) < Math.log(MOST.zoom) && Math.abs(turnOf(similarity)) < MOST.turn
  )
}

/** Returns each corner that agrees with a similarity, with the nearest of its candidates. */
function agreeingPairs(corners: readonly CornerCandidates[], similarity: Similarity) {
  const { forward } = similarityStep(similarity)
  return corners.flatMap(({ corner, candidates }) => {
    const expected = forward(corner)
    const near = candidates.filter(({ at }) => distance(at, expected) <= AGREES)
    return near.length > 0 ? [{ from: corner, to: near[0].at }] : []
  })
}

/** Returns the similarity fitted to all corners that agree with it, twice. */
function refined(corners: readonly CornerCandidates[], start: Similarity): Similarity {
  let similarity = start
  for (let round = 0; round < 2; round++) {
    const pairs = agreeingPairs(corners, similarity)
    const fitted = fitSimilarity(
      pairs.map(({ from }) => from),
      pairs.map(({ to }) => to),
      'tilted',
    )
    if (!fitted) return similarity
    similarity = fitted
  }
  return similarity
}
