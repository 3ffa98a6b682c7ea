import { execFileSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { uuid } from '../testing/client.ts'
import { Conversions } from '../testing/conversions.ts'
import { Movies, probedTimes } from '../testing/movies.ts'
import { type TestServer, testServer } from '../testing/testServer.ts'
import { zip } from '../testing/zips.ts'
import { checkAmount } from './ffmpeg.ts'
import { type Stills, unpackStills } from './stills.ts'

const movies = new Movies()
let server: TestServer
let conversions: Conversions

beforeAll(async () => {
  server = await testServer()
  conversions = new Conversions(server, movies)
})
afterAll(async () => {
  await server?.stop()
  movies.remove()
})

describe('stills', () => {
  const still = (colour: string, size = '64x48') => {
    movies.make(`${colour}.png`, '-frames:v 1', `-f lavfi -i color=${colour}:size=${size}`)
    return movies.read(`${colour}.png`)
  }

  it('of a ZIP become frames in the order of their numbers, at the typed rate', async () => {
    const colours = [
      'red',
      'lime',
      'blue',
      'yellow',
      'white',
      'black',
      'gray',
      'navy',
      'teal',
      'olive',
      'purple',
    ]
    // Packed in the order of letters: 1, 10, 11, 2 …
    const entries = colours
      .map((colour, i) => ({ name: `quay/still ${i + 1}.PNG`, body: still(colour) }))
      .sort((a, b) => (a.name < b.name ? -1 : 1))
    writeFileSync(
      movies.path('stills.zip'),
      zip([...entries, { name: '__MACOSX/._still 1.PNG', body: Buffer.from('x') }]),
    )
    const made = await conversions.converted('stills.zip', 'stills', '29.97')
    const times = probedTimes(made)
    expect(times).toHaveLength(11)
    expect(times[10]).toBeCloseTo(10 / 29.97, 9)
    const luma = execFileSync('ffmpeg', [
      '-v',
      'error',
      '-i',
      made,
      '-vf',
      'scale=1:1,format=gray',
      '-f',
      'rawvideo',
      '-',
    ])
    // White is the fifth and brightest, black the sixth and darkest.
    expect([...luma].indexOf(Math.max(...luma))).toBe(4)
    expect([...luma].indexOf(Math.min(...luma))).toBe(5)
  })

  it('that would be hours of work are refused before it begins', async () => {
    const large = { name: '1.png', body: still('white', '8192x8192') }
    writeFileSync(movies.path('large.zip'), zip([large, { ...large, name: '2.png' }]))
    expect((await conversions.failed('large.zip', 'stills')).problem).toMatch(
      /8192 × 8192 px, more than the 35 million/,
    )
    const size = { width: 8000, height: 4000 }
    expect(() => checkAmount({ ...size, frames: 6251 })).toThrow(
      /about 6251 frames of 8000 × 4000 px; of this size at most 6250/,
    )
    expect(() => checkAmount({ ...size, frames: 6250 })).not.toThrow()
    expect(() => checkAmount({ ...size, frames: null })).not.toThrow()
  })

  it('are refused where something is wrong with them', async () => {
    const png = still('red')
    const limits = { files: 20, bytes: 1_000_000 }
    const unpacked = async (entries: Parameters<typeof zip>[0]): Promise<Stills> => {
      const path = movies.path(`${uuid()}.zip`)
      writeFileSync(path, zip(entries))
      return unpackStills(path, movies.path(uuid()), limits, new AbortController().signal)
    }
    const one = { name: '1.png', body: png }
    await expect(unpacked([one, { name: '2.png', body: still('blue', '32x32') }])).rejects.toThrow(
      /not all of one size.*64 × 48.*32 × 32/,
    )
    await expect(unpacked([one, { name: 'notes.txt', body: Buffer.from('x') }])).rejects.toThrow(
      /notes\.txt.*no PNG or JPEG/,
    )
    await expect(unpacked([one, { name: '2.jpg', body: png }])).rejects.toThrow(/not all of one kind/)
    await expect(unpacked([one, { name: '2.png', body: Buffer.from('no picture') }])).rejects.toThrow(
      /damaged or no picture/,
    )
    await expect(unpacked([])).rejects.toThrow(/no PNG or JPEG in this ZIP/)
    await expect(unpacked([{ name: '../../1.png', body: png }])).rejects.toThrow(/lead out of it/)
    await expect(unpacked([{ name: '/etc/1.png', body: png }])).rejects.toThrow(/lead out of it/)
    await expect(
      unpacked(Array.from({ length: 21 }, (_, i) => ({ name: `${i}.png`, body: png }))),
    ).rejects.toThrow(/more than 20 files/)
    await expect(unpacked([{ name: '1.png', body: Buffer.alloc(2_000_000) }])).rejects.toThrow(
      /would unpack to more than/,
    )
    // It promises little and unpacks to much.
    await expect(unpacked([{ name: '1.png', body: Buffer.alloc(2_000_000), claims: 100 }])).rejects.toThrow(
      /damaged or cut off/,
    )
    writeFileSync(movies.path('half.zip'), zip([one]).subarray(0, 60))
    await expect(
      unpackStills(movies.path('half.zip'), movies.path(uuid()), limits, new AbortController().signal),
    ).rejects.toThrow(/damaged or cut off/)
  })
})
