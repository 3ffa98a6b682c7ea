import { bodyProposals } from '@apokinema/core/proposals'
import { clockOf } from '@apokinema/core/scene'
import { describe, expect, it } from 'vitest'
import type { MotionKind } from './chooser.ts'
import { EncodedClip } from './encodedClip.ts'
import { followedClip } from './followedClip.ts'
import { measuredClip } from './measuredClip.ts'
import { randomClip } from './randomClip.ts'

/** When bodies move freely and along which axes, told from followed marks of clips of which everything is known. */

const NOW = Math.floor(Date.now() / 1000)
const KINDS: MotionKind[] = ['throw', 'fall', 'roll', 'slide']
/** The same ones each time, and as many that nobody has seen. */
const CLIPS = [9600, NOW].flatMap((from) =>
  Array.from({ length: 12 }, (_, i) => [from + i, KINDS[i % KINDS.length]] as const),
)
/** A body that goes less far from one frame to the next rests, in metres. */
const REST = 1e-5
/** Share of a body that must be seen for it to count as visible. */
const VISIBLE = 0.9
/** A mark that is farther from the body than this, in pixels, is not of its motion. */
const FOLLOWED = 3
/** With fewer marks of its motion a body was not followed: there is nothing of which a stretch could be proposed. */
const FEWEST = 8
/** Frames by which a stretch may reach beyond the motion. */
const BEYOND = 1

describe('24 followed clips', () => {
  const found: { isWithin: boolean; share: number | null; tilt: number | null }[] = []

  it.each(CLIPS)('seed %i, %s', async (seed, motion) => {
    const clip = randomClip(seed, { motion, rest: 0.7 })
    using encoded = await EncodedClip.of(clip)
    const frames = await followedClip(clip, encoded)
    const document = measuredClip(clip, frames)
    const [body] = Object.values(document.bodies)
    const { stretches, axes } = bodyProposals(
      { body, enlargement: 1 },
      clockOf(document)!.seconds,
      document.outlierLimit,
    )
    const pose = (frame: number) => clip.bodies[0].pose(frame / clip.rate)
    const moving = frames
      .filter(({ seen, at }) => seen >= VISIBLE && at !== null)
      .map(({ frame }) => frame)
      .filter((frame) => {
        const [one, other] = [pose(frame), pose(frame + 1)]
        return Math.hypot(other.x - one.x, other.y - one.y) > REST
      })
    const [first, last] = [moving[0], moving[moving.length - 1]]
    const followed = frames
      .filter(({ frame }) => frame >= first && frame <= last)
      .filter(({ at, truth }) => at && Math.hypot(at.x - truth.x, at.y - truth.y) < FOLLOWED)
    const held = stretches.map(
      ({ from, to }) => followed.filter(({ frame }) => frame >= from && frame <= to).length,
    )
    const truth = axes?.kind === 'line' && axes.along === 'x' ? -clip.slope : 0
    const tilt = axes && axes.kind !== 'pivot' ? (axes.tilt - truth) / axes.tiltError : null
    console.log(
      `${seed} ${motion} moves ${first}-${last}, proposed ${stretches.map(({ from, to, law }) => `${from}-${to} ${law}`).join(', ')}; ${axes?.kind} ${tilt?.toFixed(1)}σ`,
    )
    const isWithin = stretches.every(({ from, to }) => from >= first - BEYOND && to <= last + BEYOND)
    const share = followed.length >= FEWEST ? Math.max(0, ...held) / followed.length : null
    found.push({ isWithin, share, tilt })
  })

  it('are proposed a stretch within the motion in 95 %, with 80 % of what was followed in 90 %, and tilts within 3 errors', () => {
    const count = (of: (one: (typeof found)[number]) => boolean) => found.filter(of).length
    const within = count(({ isWithin }) => isWithin)
    const shares = found.flatMap(({ share }) => share ?? [])
    const long = shares.filter((share) => share >= 0.8).length
    const tilted = found.flatMap(({ tilt }) => tilt ?? [])
    console.log(
      `${within} within of ${found.length}, ${long} with 80 % of ${shares.length}; tilts of ${tilted.length}, ${tilted.filter((one) => Math.abs(one) <= 3).length} within 3 errors`,
    )
    expect(within / found.length).toBeGreaterThanOrEqual(0.95)
    expect(long / shares.length).toBeGreaterThanOrEqual(0.9)
    // What slips by pixels while it is followed tells a wrong direction.
    expect(tilted.filter((one) => Math.abs(one) <= 3).length / tilted.length).toBeGreaterThanOrEqual(0.95)
  })
})
