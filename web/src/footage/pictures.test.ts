import type * as Comlink from 'comlink'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Decoder } from './decoder.worker.ts'
import type { TakePicture, Wanted } from './frameSource.ts'
import { Pictures } from './pictures.ts'

const PICTURE = { width: 100, height: 50 }
const BYTES = 100 * 50 * 4

/** Returns a decoder that notes what it is asked for, and delivers on request. */
function setUp(pictures: number, width = PICTURE.width) {
  let deliver: TakePicture = () => {}
  let wanted: Wanted[] = []
  let limit = 0
  const decoder = {
    deliverTo: (take: TakePicture) => {
      deliver = take
    },
    want: (frames: Wanted[]) => {
      wanted = frames
    },
    limitTo: (bytes: number) => {
      limit = bytes
    },
  } as unknown as Comlink.Remote<Decoder>
  const closed: number[] = []
  const kept = new Pictures(decoder, PICTURE, width, pictures * BYTES)
  const image = (frame: number, wide: number) =>
    ({ width: wide, height: wide / 2, close: () => closed.push(frame) }) as unknown as ImageBitmap
  const arrive = (...frames: number[]) => {
    for (const frame of frames) deliver(frame, image(frame, width), null)
  }
  return {
    kept,
    arrive,
    closed,
    arriveWhole: (frame: number) => deliver(frame, image(frame, PICTURE.width), null),
    image,
    wanted: () => wanted.map(({ index }) => index),
    limit: () => limit,
    widths: () => wanted.map(({ width: wide }) => wide),
    fail: (frame: number) => deliver(frame, null, 'Broken.'),
  }
}

const up = (from: number, count: number) => Array.from({ length: count }, (_, i) => from + i)

beforeEach(() => {
  vi.useFakeTimers()
})
afterEach(() => {
  vi.useRealTimers()
})

describe('pictures around the current frame', () => {
  it('are asked for with the current one first, ahead before behind, as many as can be kept', () => {
    const { kept, wanted } = setUp(11)
    kept.want(50, up(51, 20), [49, 48, 47, 46, 45])
    expect(wanted()).toEqual([50, ...up(51, 6), 49, 48, 47])
  })

  it('that have come are not asked for again', () => {
    const { kept, arrive, wanted } = setUp(11)
    kept.want(50, up(51, 20), [49])
    arrive(50, 51)
    kept.want(51, up(52, 20), [50])
    expect(wanted()[0]).toBe(52)
    expect(wanted()).not.toContain(51)
    expect(kept.get(51)).toBeDefined()
  })

  it('are left in peace while enough lies ready, and fetched when the steps pause', () => {
    const { kept, arrive, wanted } = setUp(40)
    kept.want(0, up(1, 20), [])
    arrive(...up(0, 12))
    kept.want(1, up(2, 20), [0])
    expect(wanted()).toEqual([])
    vi.advanceTimersByTime(200)
    expect(wanted()).toEqual(up(12, 10))
  })

  it('are not asked for while nobody looks at the frame, nor once the clip is closed', () => {
    const { kept, arrive, wanted } = setUp(40)
    kept.want(0, up(1, 20), [])
    arrive(...up(0, 12))
    kept.want(1, up(2, 20), [0])
    kept.rest()
    vi.advanceTimersByTime(200)
    expect(wanted()).toEqual([])
    kept.want(30, [31], [29])
    expect(wanted()).toEqual([30, 31, 29])
    kept.close()
    kept.rest()
    expect(wanted()).toEqual([30, 31, 29])
  })

  it('are given up, the farthest first, while others need the memory, and fetched again afterwards', () => {
    const { kept, arrive, closed, wanted, limit } = setUp(11)
    kept.want(50, up(51, 6), [49, 48, 47])
    arrive(50, ...up(51, 6), 49, 48, 47)
    kept.limitTo(4 * BYTES)
    expect(limit()).toBe(2 * BYTES)
    expect(closed).toHaveLength(6)
    expect(closed).toEqual(expect.arrayContaining([47, ...up(53, 4)]))
    kept.want(50, up(51, 6), [49, 48, 47])
    expect(wanted()).toEqual([])
    kept.limitTo(null)
    vi.advanceTimersByTime(200)
    expect(wanted()).toEqual(expect.arrayContaining(up(53, 4)))
  })

  it('take no more memory than they may: the farthest is given up, never the one on show', () => {
    const { kept, arrive, closed } = setUp(4)
    kept.want(10, [11, 12], [9])
    arrive(10)
    kept.show(10)
    kept.want(14, [15, 16], [13])
    arrive(14, 15, 16, 13)
    expect(kept.bytes).toBe(4 * BYTES)
    expect(kept.get(10)).toBeDefined()
    expect(closed).toEqual([16])
  })

  it('are small until details are looked at, then whole for the current one and its nearest', () => {
    const { kept, arrive, arriveWhole, widths, wanted } = setUp(8, 40)
    kept.want(5, up(6, 8), [4, 3])
    expect(new Set(widths())).toEqual(new Set([40]))
    arrive(5, ...up(6, 8), 4, 3)
    kept.showDetails(true)
    expect(wanted()).toEqual([5, 6, 7, 8, 4])
    expect(new Set(widths())).toEqual(new Set([100]))
    arriveWhole(5)
    expect(kept.get(5)!.image.width).toBe(100)
    kept.want(5, up(6, 8), [4, 3])
    expect(wanted()).not.toContain(5)
  })

  it('are small again afterwards, but a whole one that is there is as good', () => {
    const { kept, arrive, arriveWhole, wanted } = setUp(8, 40)
    kept.showDetails(true)
    kept.want(5, [6], [])
    arriveWhole(5)
    arrive(6)
    kept.showDetails(false)
    vi.advanceTimersByTime(200)
    expect(wanted()).toEqual([])
    expect(kept.bytes).toBe(BYTES + (BYTES * 40 * 40) / (100 * 100))
  })

  it('have a still stand in after a jump, until the exact one has come', async () => {
    const { kept, arrive, arriveWhole, image, wanted } = setUp(8, 40)
    vi.stubGlobal('createImageBitmap', async () => image(70, 20))
    kept.addStill(70, new Blob())
    kept.want(70, [71], [])
    await vi.advanceTimersByTimeAsync(0)
    expect(kept.get(70)).toMatchObject({ exact: false })
    expect(wanted()).toContain(70)
    arrive(70)
    expect(kept.get(70)).toMatchObject({ exact: true })
    // One that has been overtaken by the next jump is not shown.
    kept.addStill(90, new Blob())
    kept.want(90, [91], [])
    kept.want(10, [11], [])
    await vi.advanceTimersByTimeAsync(0)
    expect(kept.get(90)).toBeUndefined()
    arriveWhole(10)
    expect(kept.stillCount).toBe(2)
    vi.unstubAllGlobals()
  })

  it('tell listeners of what arrives, and why a frame has none', () => {
    const { kept, arrive, fail } = setUp(4)
    const told = vi.fn()
    const leave = kept.subscribe(told)
    const before = kept.version()
    arrive(3)
    fail(4)
    expect(told).toHaveBeenCalledTimes(2)
    expect(kept.version()).toBeGreaterThan(before)
    expect(kept.failure(4)).toBe('Broken.')
    expect(kept.failure(3)).toBeNull()
    leave()
    arrive(5)
    expect(told).toHaveBeenCalledTimes(2)
  })

  it('are given back when the clip is closed', () => {
    const { kept, arrive, closed } = setUp(4)
    arrive(1, 2)
    kept.close()
    expect(closed).toEqual([1, 2])
    expect(kept.get(1)).toBeUndefined()
  })
})
