import { describe, expect, it } from 'vitest'
import type { Plane } from './grid.ts'
import { GuidedFollower } from './guided.ts'
import type { Following, Sighting } from './sighting.ts'

const plane: Plane = { x: 0, y: 0, width: 1, height: 1, data: new Uint8Array(1) }

/** A body of 5 px that goes 10 px a frame and is seen in the frames that `sightings` say, once or in a wider reach. */
class Scripted implements Following {
  readonly shown: number[] = []
  private isWide = false

  constructor(private readonly sightings: (frame: number, isWide: boolean) => Sighting['kind']) {}

  reach(time: number) {
    const at = { x: 10 * time, y: 0 }
    return { at, radius: 8, rect: { x: 0, y: 0, width: 1, height: 1 }, by: 'steady' as const }
  }

  widen(): void {
    this.isWide = true
  }

  see(_: Plane, time: number): Sighting {
    const kind = this.sightings(time, this.isWide)
    const at = { x: 10 * time, y: 0 }
    this.isWide = false
    if (kind === 'two') return { kind, at, places: [at, { x: at.x + 20, y: 0 }] }
    if (kind === 'elsewhere') return { kind, at, places: [at] }
    if (kind !== 'found') return { kind, at }
    const pose = { ...at, scale: 1, turn: 0 }
    return { kind, at, certainty: 0.9, pose, by: 'steady', byOutline: false }
  }

  place() {
    return { x: 0, y: 0, size: 5 }
  }

  show(_: Plane, time: number): void {
    this.shown.push(time)
  }

  showReach() {
    return { x: 0, y: 0, width: 1, height: 1 }
  }
}

/** Outcomes of frames 1 to `frames`, a second apart; `answer` says what a person does about a question. */
async function outcomes(
  sightings: (frame: number, isWide: boolean) => Sighting['kind'],
  { frames = 40, patience = 2, answer = (_: GuidedFollower, __: number) => {} } = {},
) {
  const guided = new GuidedFollower(new Scripted(sightings), patience, 1)
  const found: Awaited<ReturnType<GuidedFollower['search']>>[] = []
  for (let frame = 1; frame <= frames; frame++) {
    found.push(await guided.search(() => plane, frame))
    if (found[frame - 1].kind === 'question') answer(guided, frame)
  }
  return found
}

const kinds = (all: { kind: string }[], kind: string) =>
  all.flatMap((one, i) => (one.kind === kind ? [i + 1] : []))

describe('a guided follower', () => {
  it('looks a second time in a wider reach before a body counts as not seen', async () => {
    const all = await outcomes((frame, isWide) => (frame === 7 && !isWide ? 'hidden' : 'found'))
    expect(kinds(all, 'found')).toHaveLength(40)
  })

  it('asks once a body is out of sight for longer than its patience, from the first frame without it on', async () => {
    const all = await outcomes((frame) => (frame >= 10 && frame < 30 ? 'hidden' : 'found'))
    expect(kinds(all, 'missed')).toEqual([10, 11])
    expect(kinds(all, 'question').slice(0, 1)).toEqual([12])
    expect(all[11]).toMatchObject({ kind: 'question', why: 'hidden', since: 10, at: { x: 120, y: 0 } })
  })

  it('asks where it was missed in more than a fifth of the frames, never for long', async () => {
    const all = await outcomes((frame) => (frame % 3 === 0 ? 'hidden' : 'found'), { frames: 15 })
    expect(kinds(all, 'question')).toEqual([15])
  })

  it('asks at once where two places look like it', async () => {
    const all = await outcomes((frame) => (frame === 5 ? 'two' : 'found'))
    expect(all[4]).toMatchObject({ kind: 'question', why: 'two', places: [{ x: 50 }, { x: 70 }] })
  })

  it('asks whether something far from its predicted path is it, since when it was out of sight', async () => {
    const all = await outcomes((frame) => (frame < 10 ? 'found' : frame < 30 ? 'hidden' : 'elsewhere'), {
      answer: (guided, frame) => guided.lookOn(frame + 15),
    })
    expect(all[29]).toMatchObject({ kind: 'question', why: 'elsewhere', since: 10, places: [{ x: 300 }] })
  })

  it('looks on for as long as the body needs to pass what hides it, three of its widths', async () => {
    const all = await outcomes((frame) => (frame >= 10 ? 'hidden' : 'found'), {
      answer: (guided, frame) => guided.lookOn(frame),
    })
    // 30 px at 10 px a frame are three frames, but it is never asked again before five.
    expect(kinds(all, 'question').slice(0, 2)).toEqual([12, 18])
  })

  it('goes on with its old patience from where it was shown', async () => {
    const shown: number[] = []
    const all = await outcomes((frame) => (frame >= 10 && frame < 30 ? 'hidden' : 'found'), {
      answer: (guided, frame) => {
        guided.show(plane, frame, { x: 10 * frame, y: 0 })
        shown.push(frame)
      },
    })
    expect(shown.slice(0, 3)).toEqual([12, 15, 18])
    expect(kinds(all, 'found')).toEqual([
      1, 2, 3, 4, 5, 6, 7, 8, 9, 30, 31, 32, 33, 34, 35, 36, 37, 38, 39, 40,
    ])
  })
})
