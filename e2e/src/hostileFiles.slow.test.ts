import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { API, type ConversionAnswer, type FootageKind } from '@apokinema/core/api'
import { randomSource } from '@apokinema/core/random'
import { clientOf, uuid } from '@apokinema/server/testing/client'
import { Movies } from '@apokinema/server/testing/movies'
import { zip } from '@apokinema/server/testing/zips'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { ServerProcess } from './serverProcess.ts'

/** Files that mean harm, or are broken in every way: each is refused in a sentence or converted, and nothing is left. */

const FILES = 300
/** Bytes that all processes of the server may take together. */
const MOST_MEMORY = 1e9

const movies = new Movies()
let server: ServerProcess
let client: ReturnType<typeof clientOf>

beforeAll(async () => {
  server = await ServerProcess.start()
  client = clientOf(server)
})
afterAll(async () => {
  await server?.stop()
  movies.remove()
})

interface Hostile {
  name: string
  body: Buffer
  kind: FootageKind
}

const text = (name: string, body: string): Hostile => ({ name, body: Buffer.from(body), kind: 'video' })

/** Returns a PNG that says that it is of some size, and holds nothing. */
function emptyPng(width: number, height: number): Buffer {
  const png = Buffer.from(movies.read('one.png'))
  png.writeUInt32BE(width, 16)
  png.writeUInt32BE(height, 20)
  return png
}

/** Files that are made to do harm. */
function crafted(): Hostile[] {
  const secret = join(server.footageFolder, 'secret')
  writeFileSync(secret, 'secret')
  const large = movies.read('large.png')
  return [
    text(
      'list.m3u8',
      `#EXTM3U\n#EXTINF:1,\nfile://${secret}\n#EXTINF:1,\nhttp://127.0.0.1:${server.port}/livez\n`,
    ),
    text('list.txt', `ffconcat version 1.0\nfile '${secret}'\n`),
    text(
      'film.sdp',
      'v=0\no=- 0 0 IN IP4 127.0.0.1\ns=x\nc=IN IP4 127.0.0.1\nt=0 0\nm=video 5004 RTP/AVP 96\n',
    ),
    text(
      'film.mpd',
      `<MPD><Period><AdaptationSet><BaseURL>file://${secret}</BaseURL></AdaptationSet></Period></MPD>`,
    ),
    text('film.svg', `<svg xmlns="http://www.w3.org/2000/svg"><image href="file://${secret}"/></svg>`),
    text('playlist.avi', `#EXTM3U\n#EXTINF:1,\nconcat:${secret}|${secret}\n`),
    text('film.edl', `# mpv EDL v0\n${secret},0,1\n`),
    {
      name: 'large.zip',
      kind: 'stills',
      body: zip([1, 2, 3].map((n) => ({ name: `${n}.png`, body: large }))),
    },
    { name: 'claims.zip', kind: 'stills', body: zip([{ name: '1.png', body: emptyPng(60_000, 60_000) }]) },
    { name: 'thin.zip', kind: 'stills', body: zip([{ name: '1.png', body: emptyPng(1, 8192) }]) },
    { name: 'bomb.zip', kind: 'stills', body: zip([{ name: '1.png', body: Buffer.alloc(60_000_000) }]) },
    {
      name: 'out.zip',
      kind: 'stills',
      body: zip([{ name: '../../../1.png', body: movies.read('one.png') }]),
    },
    { name: 'largest.avi', kind: 'video', body: movies.read('largest.avi') },
    {
      name: 'random.mp4',
      kind: 'as-it-is',
      body: Buffer.from(Array.from({ length: 5000 }, (_, i) => (i * 7919) % 251)),
    },
  ]
}

/** Sound films, each broken by chance: bits turned, parts cut out, doubled, or said to be of another size. */
function* broken(seed: number): Generator<Hostile> {
  const random = randomSource(seed)
  const pick = <T>(all: readonly T[]) => all[Math.floor(random() * all.length)]
  const sound: [string, FootageKind][] = [
    ...(
      ['quay.avi', 'quay.mp4', 'quay.mkv', 'quay.gif', 'quay.ts', 'quay.wmv', 'quay.mov', 'quay.flv'] as const
    ).map((name): [string, FootageKind] => [name, 'video']),
    ['stills.zip', 'stills'],
    ['quay.mp4', 'as-it-is'],
  ]
  for (;;) {
    const [name, kind] = pick(sound)
    let body = Buffer.from(movies.read(name))
    for (let change = 0; change < 1 + Math.floor(random() * 6); change++) {
      if (body.length < 16) break
      // Headers count for more than pictures.
      const at = Math.floor(body.length * random() ** 3)
      const length = Math.floor(1 + random() ** 4 * (body.length - at))
      const how = pick(['bits', 'cut', 'double', 'numbers', 'off'])
      if (how === 'bits') body[at] ^= 1 << Math.floor(random() * 8)
      else if (how === 'cut') body = Buffer.concat([body.subarray(0, at), body.subarray(at + length)])
      else if (how === 'double')
        body = Buffer.concat([body.subarray(0, at + length), body.subarray(at)]).subarray(0, 4_000_000)
      else if (how === 'numbers')
        body.fill(pick([0, 255, 127, 128]), at, Math.min(body.length, at + pick([2, 4, 8])))
      else body = body.subarray(0, at)
    }
    yield { name, kind, body }
  }
}

/** Bytes of memory of a process and all that it has started, what they share counted once. */
function memoryOf(pid: number): number {
  try {
    const own =
      Number(/^Pss:\s+(\d+) kB/m.exec(readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8'))?.[1] ?? 0) * 1024
    const children = readdirSync(`/proc/${pid}/task`)
      .flatMap((task) => readFileSync(`/proc/${pid}/task/${task}/children`, 'utf8').split(' '))
      .filter(Boolean)
    return children.reduce((sum, child) => sum + memoryOf(Number(child)), own)
  } catch {
    // It has ended meanwhile.
    return 0
  }
}

/** Hands a file over; gives what became of it. */
async function handOver({ name, body, kind }: Hostile): Promise<string> {
  const { id } = await client.make()
  const rate = kind === 'stills' ? { rate: '25' } : {}
  const answer = await client.claim(id, uuid(), body, { name, kind, ...rate })
  const said = await answer.text()
  expect([201, 400, 413, 415, 422], `${name}: ${said}`).toContain(answer.status)
  if (answer.status !== 201) return `${answer.status}`
  if (kind === 'as-it-is') return 'taken'
  let told: ConversionAnswer | null = null
  await expect
    .poll(
      async () => {
        told = await client.conversion(id)
        return told?.state
      },
      { timeout: 120_000, interval: 50, message: name },
    )
    .toSatisfy((state) => state === 'done' || state === 'failed')
  const { state, problem, technical } = told!
  if (state === 'failed') {
    expect(problem, name).toMatch(/^[A-Z“].*\.$/s)
    expect(`${problem} ${technical}`, name).not.toContain(server.footageFolder)
    expect(problem, name).not.toMatch(/went wrong on the server|ended from outside/)
  }
  expect(technical ?? '').not.toContain('secret\n')
  return state
}

it(`${FILES} hostile files are refused in a sentence or converted, leave nothing, and take little memory`, async () => {
  movies.make('one.png', '-frames:v 1', '-f lavfi -i color=red:size=64x48')
  movies.make('large.png', '-frames:v 1', '-f lavfi -i color=white:size=8192x8192')
  movies.make('largest.avi', '-frames:v 6 -c:v mjpeg -q:v 31', '-f lavfi -i color=size=7680x4320')
  movies.make('quay.avi', '-c:v mjpeg')
  movies.make('quay.mp4', '-c:v libx264 -preset ultrafast')
  movies.make('quay.mkv', '-c:v mpeg4')
  movies.make('quay.gif', '-vf fps=10')
  movies.make('quay.ts', '-c:v mpeg2video')
  movies.make('quay.wmv', '-c:v wmv2')
  movies.make('quay.mov', '-c:v prores')
  movies.make('quay.flv', '-c:v flv')
  const still = movies.read('one.png')
  writeFileSync(movies.path('stills.zip'), zip([1, 2, 3].map((n) => ({ name: `${n}.png`, body: still }))))

  let most = 0
  const pid = server.serverPid
  const watch = setInterval(() => {
    most = Math.max(most, memoryOf(pid) + memoryOf(server.databasePid))
  }, 100)
  const files = crafted()
  for (const hostile of broken(1618)) {
    if (files.length >= FILES) break
    files.push(hostile)
  }
  const became: Record<string, number> = {}
  // Four people at a time.
  const waiting = files.values()
  await Promise.all(
    Array.from({ length: 4 }, async () => {
      for (const file of waiting) {
        const what = await handOver(file)
        became[what] = (became[what] ?? 0) + 1
      }
    }),
  )
  clearInterval(watch)
  console.log(`${JSON.stringify(became)}, at most ${Math.round(most / 1e6)} MB`)
  expect(Object.values(became).reduce((sum, count) => sum + count, 0)).toBe(FILES)
  expect(became.failed).toBeGreaterThan(0)
  expect(most).toBeGreaterThan(5e7)
  expect(most).toBeLessThan(MOST_MEMORY)
  expect((await client.send('GET', API.investigations)).status).toBe(200)
  const incoming = join(server.footageFolder, 'incoming')
  expect(readdirSync(incoming).flatMap((one) => readdirSync(join(incoming, one)))).toEqual([])
  expect(readdirSync(join(server.footageFolder, 'uploads'))).toEqual([])
  expect(server.serverPid).toBe(pid)
})
