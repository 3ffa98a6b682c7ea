import { execFileSync } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { API, type ConversionAnswer, type FootageKind } from '@apokinema/core/api'
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest'
import { clientOf, uuid } from '../testing/client.ts'
import { Gate } from '../testing/gate.ts'
import { Movies, probedTimes } from '../testing/movies.ts'
import { type TestServer, testServer } from '../testing/testServer.ts'
import { zip } from '../testing/zips.ts'
import { pathOf } from './blobStore.ts'
import { checkAmount } from './ffmpeg.ts'
import { eraseUnused } from './links.ts'
import { type Stills, unpackStills } from './stills.ts'

const movies = new Movies()
let server: TestServer
let client: ReturnType<typeof clientOf>

beforeAll(async () => {
  server = await testServer()
  client = clientOf(server)
})
afterAll(async () => {
  await server?.stop()
  movies.remove()
})

/** Hands a file over for conversion. */
async function ask(name: string, kind: FootageKind = 'video', rate?: string) {
  const { id } = await client.make()
  const footage = uuid()
  const answer = await client.claim(id, footage, movies.read(name), { kind, name, ...(rate ? { rate } : {}) })
  expect(answer.status).toBe(201)
  return { id, footage, path: API.footage(id, footage) }
}

const settled = (id: string, states: ConversionAnswer['state'][] = ['done', 'failed', 'cancelled']) =>
  expect
    .poll(async () => (await client.conversion(id))?.state, { timeout: 60_000, interval: 100 })
    .toSatisfy((state: ConversionAnswer['state']) => states.includes(state))

/** Converts a file and gives the path of a copy of what came of it. */
async function converted(name: string, kind: FootageKind = 'video', rate?: string): Promise<string> {
  const { id, path } = await ask(name, kind, rate)
  await settled(id)
  const state = await client.conversion(id)
  expect(state).toMatchObject({ state: 'done', progress: 1, problem: null, name })
  const answer = await client.send('GET', path)
  expect(answer.headers.get('content-type')).toBe('video/mp4')
  const made = movies.path(`made-${name}.mp4`)
  writeFileSync(made, Buffer.from(await answer.arrayBuffer()))
  return made
}

async function failed(name: string, kind: FootageKind = 'video', rate?: string): Promise<ConversionAnswer> {
  const { id, path } = await ask(name, kind, rate)
  await settled(id)
  expect((await client.send('GET', path)).status).toBe(404)
  return (await client.conversion(id))!
}

interface Probed {
  codec_name: string
  pix_fmt: string
  width: number
  height: number
  sample_aspect_ratio?: string
  color_transfer?: string
  field_order?: string
}
const probed = (path: string): Probed =>
  JSON.parse(
    execFileSync('ffprobe', ['-v', 'error', '-print_format', 'json', '-show_streams', path], {
      encoding: 'utf8',
    }),
  ).streams[0]

const UNEVEN = `-vf setpts='(N*6+mod(N*7,5))/TB/150' -fps_mode passthrough`

describe('conversion', () => {
  it.each([
    ['mjpeg.avi', '-c:v mjpeg -pix_fmt yuvj420p'],
    ['mpeg4.avi', '-c:v mpeg4'],
    ['camera.wmv', '-c:v wmv2'],
    ['stream.ts', '-c:v mpeg2video -bf 2'],
    ['hevc.mp4', '-c:v libx265 -tag:v hvc1 -x265-params log-level=none'],
    ['uneven.mkv', `${UNEVEN} -c:v mjpeg`],
    [
      'uneven-hevc.mov',
      `${UNEVEN} -enc_time_base 1:1200 -video_track_timescale 1200 -c:v libx265 -x265-params log-level=none`,
    ],
    ['animation.gif', '-vf fps=20'],
  ])('of %s keeps every frame and its time', async (name, output) => {
    const source = movies.make(name, output)
    const made = await converted(name)
    const [is, was] = [probedTimes(made), probedTimes(source)]
    expect(is).toHaveLength(was.length)
    is.forEach((time, frame) => {
      expect(time).toBeCloseTo(was[frame], 9)
    })
    expect(probed(made)).toMatchObject({ codec_name: 'h264', pix_fmt: 'yuv420p', width: 160, height: 120 })
  })

  it('begins where an edit list says', async () => {
    movies.make(
      'long.mp4',
      '-c:v libx265 -x265-params log-level=none:keyint=100',
      '-f lavfi -i testsrc2=size=160x120:rate=25:duration=2',
    )
    // Cut without encoding anew: the file holds the frames from the key frame on, and shows them from 0.5 s on.
    const source = movies.make('cut.mp4', '-c copy', `-ss 0.5 -i ${movies.path('long.mp4')}`)
    const packets = execFileSync(
      'ffprobe',
      [
        '-v',
        'error',
        '-count_packets',
        '-show_entries',
        'stream=nb_read_packets',
        '-of',
        'csv=p=0',
        '-ignore_editlist',
        '1',
        source,
      ],
      { encoding: 'utf8' },
    )
    const made = await converted('cut.mp4')
    expect(probedTimes(made)).toHaveLength(probedTimes(source).length)
    expect(Number.parseInt(packets, 10)).toBeGreaterThan(probedTimes(made).length)
  })

  it('maps high dynamic range to a normal picture of 8 bits', async () => {
    movies.make(
      'phone.mov',
      '-c:v libx265 -pix_fmt yuv420p10le -color_primaries bt2020 -color_trc arib-std-b67 -colorspace bt2020nc -x265-params log-level=none:colorprim=bt2020:transfer=arib-std-b67:colormatrix=bt2020nc',
    )
    const made = probed(await converted('phone.mov'))
    expect(made).toMatchObject({ codec_name: 'h264', pix_fmt: 'yuv420p' })
    expect(made.color_transfer ?? 'bt709').toBe('bt709')
  })

  it('takes the fields of an interlaced picture apart, each with its own time', async () => {
    const source = movies.make(
      'fields.ts',
      '-vf tinterlace=mode=interleave_top,fieldorder=tff -flags +ildct+ilme -c:v mpeg2video -b:v 4M',
      '-f lavfi -i testsrc2=size=160x120:rate=50:duration=0.8',
    )
    const [is, was] = [probedTimes(await converted('fields.ts')), probedTimes(source)]
    expect(is).toHaveLength(2 * was.length)
    is.forEach((time, field) => {
      expect(time).toBeCloseTo(field * 0.02, 6)
    })
  })

  it('makes pixels square, sides even, and turns the picture upright', async () => {
    movies.make('wide.avi', '-c:v mpeg4 -vf setsar=4/3')
    expect(probed(await converted('wide.avi'))).toMatchObject({ width: 214, height: 120 })
    movies.make(
      'odd.avi',
      '-c:v mjpeg -pix_fmt yuvj444p',
      '-f lavfi -i testsrc=size=161x121:rate=25:duration=0.4',
    )
    expect(probed(await converted('odd.avi'))).toMatchObject({ width: 162, height: 122 })
    movies.make('lying.mov', '-c:v mpeg4')
    movies.make('turned.mov', '-c copy -metadata:s:v:0 rotate=90', `-i ${movies.path('lying.mov')}`)
    expect(probed(await converted('turned.mov'))).toMatchObject({ width: 120, height: 160 })
  })

  it('keeps the capture rate that a phone noted', async () => {
    movies.make('slow.mp4', '-c:v mpeg4 -movflags use_metadata_tags -metadata com.android.capture.fps=240.0')
    const made = await converted('slow.mp4')
    const tags = execFileSync(
      'ffprobe',
      ['-v', 'error', '-show_entries', 'format_tags', '-of', 'json', made],
      { encoding: 'utf8' },
    )
    expect(Number(JSON.parse(tags).format.tags['com.android.capture.fps'])).toBe(240)
  })

  it('of a file that is cut off gives the frames that are there', async () => {
    const whole = readFileSync(movies.make('whole.avi', '-c:v mjpeg'))
    writeFileSync(movies.path('cutoff.avi'), whole.subarray(0, Math.floor(whole.length / 2)))
    const frames = probedTimes(await converted('cutoff.avi')).length
    expect(frames).toBeGreaterThan(5)
    expect(frames).toBeLessThan(24)
  })

  it('of a single frame, and of 5000 small ones', async () => {
    movies.make('one.avi', '-frames:v 1 -c:v mjpeg')
    expect(probedTimes(await converted('one.avi'))).toHaveLength(1)
    movies.make('many.gif', '', '-f lavfi -i testsrc2=size=16x16:rate=50:duration=100')
    expect(probedTimes(await converted('many.gif'))).toHaveLength(5000)
  })

  it('made before is used again, and the original is kept', async () => {
    movies.make('twice.avi', '-c:v mjpeg -t 0.2')
    await converted('twice.avi')
    const { id } = await ask('twice.avi')
    expect((await client.conversion(id))!.state).toBe('done')
    const row = await server.services.database('footage').where({ investigation_id: id }).first()
    expect(row.original_sha256).toMatch(/^[0-9a-f]{64}$/)
    const { database, blobs } = server.services
    for (const days of [0, 2]) await eraseUnused(database, blobs, new Date(Date.now() + days * 86_400_000))
    expect(existsSync(join(server.footageFolder, pathOf(row.original_sha256)))).toBe(true)
  })
})

describe('what can’t be converted says why', () => {
  it.each<[string, () => void, RegExp]>([
    [
      'sound only',
      () => movies.make('sound.avi', '', '-f lavfi -i sine=duration=0.5'),
      /no picture in this file, only sound/,
    ],
    [
      'a text',
      () => writeFileSync(movies.path('text.avi'), 'no video at all'),
      /damaged, cut off, or not a video/,
    ],
    [
      '16000 px wide',
      () => movies.make('huge.avi', '-frames:v 1 -c:v mjpeg', '-f lavfi -i testsrc2=size=16000x16'),
      /16000 × 16 px; at most 8192/,
    ],
    [
      '67 million pixels',
      () => movies.make('wide.avi', '-frames:v 1 -c:v mjpeg -q:v 31', '-f lavfi -i color=size=8192x8192'),
      /8192 × 8192 px, more than the 35 million pixels/,
    ],
    [
      'a list that names other files',
      () =>
        writeFileSync(
          movies.path('list.avi'),
          `#EXTM3U\n#EXTINF:1,\n${movies.path('whole.avi')}\n#EXT-X-ENDLIST\n`,
        ),
      /damaged, cut off, or not a video/,
    ],
  ])('%s', async (_, make, says) => {
    make()
    const name = readdirSync(join(movies.path('.'))).find((file) =>
      ['sound.avi', 'text.avi', 'huge.avi', 'wide.avi', 'list.avi'].includes(file),
    )!
    const { state, problem } = await failed(name)
    execFileSync('rm', [movies.path(name)])
    expect(state).toBe('failed')
    expect(problem).toMatch(says)
  })
})

/** Folders of conversions that are under way. */
const workFolders = () =>
  readdirSync(join(server.footageFolder, 'incoming'))
    .flatMap((one) => readdirSync(join(server.footageFolder, 'incoming', one)).map((name) => [one, name]))
    .filter(([, name]) => name)

describe('the tool that converts', () => {
  const gate = new Gate()
  afterAll(() => gate.remove())

  it('has few rights and little of the server’s own, and what it says does not tell where files lie', async () => {
    movies.make('told.avi', '-c:v mjpeg -frames:v 3')
    const told = '$last $(id -u) $(ulimit -c) $(ulimit -d) $(env | cut -d= -f1 | tr "\\n" ,)'
    gate.replace(`for last; do :; done; echo "${told}" >&2; exit 1`)
    const { technical, problem } = await failed('told.avi')
    gate.open()
    expect(problem).toMatch(/damaged, or in a form that is not known here/)
    const [, file, user, core, memory, names] = /^(\S+) (\d+) (\S+) (\S+) (\S+)$/.exec(technical!)!
    expect(file).toBe('made.mp4')
    expect(user).toBe(String(process.getuid!() === 0 ? 61_170 : process.getuid!()))
    expect(core).toBe('0')
    expect(Number(memory) * 1024).toBeLessThan(1.3e9)
    expect(
      names
        .split(',')
        .filter((name) => !['PWD', 'OLDPWD', 'SHLVL', '_', ''].includes(name))
        .sort(),
    ).toEqual(['LC_ALL', 'PATH'])
  })
})

describe('two servers on one database', () => {
  const gate = new Gate()
  let other: TestServer
  beforeAll(async () => {
    const { databaseUrl, footageFolder } = server.services.config
    other = await testServer({ databaseUrl, footageFolder })
  })
  afterEach(() => gate.open())
  afterAll(async () => {
    gate.remove()
    await other?.stop()
  })

  it('leave each other’s conversions alone, and either stops what the other runs', async () => {
    movies.make('both.avi', '-c:v mjpeg -frames:v 7')
    gate.close()
    const { id } = await ask('both.avi')
    await settled(id, ['running'])
    const third = await testServer({
      databaseUrl: server.services.config.databaseUrl,
      footageFolder: server.services.config.footageFolder,
    })
    expect(await client.conversion(id)).toMatchObject({ state: 'running' })
    expect(workFolders()).toHaveLength(1)
    await third.stop()
    expect(await client.conversion(id)).toMatchObject({ state: 'running' })
    const { server_id } = await server.services
      .database('conversions')
      .where({ investigation_id: id })
      .first()
    const idle = server_id === server.services.registry.id ? other : server
    expect((await clientOf(idle).send('DELETE', API.conversion(id))).status).toBe(204)
    expect(await client.conversion(id)).toMatchObject({ state: 'cancelled' })
    await expect.poll(() => workFolders(), { timeout: 30_000 }).toEqual([])
  })

  it('take over what one that has ended was at, and tidy what it left', async () => {
    movies.make('left.avi', '-c:v mjpeg -frames:v 9')
    gate.close()
    const { id, path } = await ask('left.avi')
    await settled(id, ['running'])
    // As a killed one leaves it: signed in a while ago, its work half done.
    const { database, blobs, registry } = server.services
    const ended = uuid()
    await database('servers').insert({ id: ended, seen_at: new Date(Date.now() - 60_000) })
    await database('conversions').where({ investigation_id: id }).update({ server_id: ended })
    const leftBehind = join(server.footageFolder, 'incoming', ended)
    mkdirSync(leftBehind)
    writeFileSync(join(leftBehind, 'half'), 'half')
    gate.open()
    await settled(id)
    expect(await client.conversion(id)).toMatchObject({ state: 'done', problem: null })
    expect((await client.send('GET', path, undefined, { Range: 'bytes=0-9' })).status).toBe(206)
    await blobs.tidy(await registry.present())
    expect(existsSync(leftBehind)).toBe(false)
    expect(readdirSync(join(server.footageFolder, 'incoming'))).toContain(registry.id)
  })
})

describe('the conversion that is told', () => {
  it('is the latest one, also where the clock was set back between two', async () => {
    movies.make('first.avi', '-c:v mjpeg -frames:v 4')
    movies.make('second.avi', '-c:v mjpeg -frames:v 5')
    const { id } = await ask('first.avi')
    await settled(id)
    await server.services
      .database('conversions')
      .where({ investigation_id: id })
      .update({ created_at: new Date(Date.now() + 86_400_000) })
    await client.claim(id, uuid(), movies.read('second.avi'), { kind: 'video', name: 'second.avi' })
    await settled(id)
    expect((await client.conversion(id))!.name).toBe('second.avi')
  })
})

describe('a conversion that takes long', () => {
  const gate = new Gate()
  afterEach(() => gate.open())
  afterAll(() => gate.remove())

  it('and is killed can be tried again', async () => {
    // Unlike any film that was converted before.
    movies.make('long.avi', '-c:v mjpeg -frames:v 20')
    gate.close()
    const { id, path } = await ask('long.avi')
    await settled(id, ['running'])
    const children = () =>
      execFileSync('ps', ['--ppid', String(process.pid), '-o', 'pid=,args='], { encoding: 'utf8' })
        .split('\n')
        .filter((line) => line.includes('made.mp4'))
        .map((line) => Number.parseInt(line, 10))
    await expect.poll(() => children().length, { timeout: 30_000 }).toBe(1)
    process.kill(children()[0], 'SIGKILL')
    await settled(id)
    gate.open()
    expect(await client.conversion(id)).toMatchObject({
      state: 'failed',
      problem: expect.stringMatching(/ended from outside/),
    })
    expect((await client.send('POST', API.conversion(id))).status).toBe(204)
    await settled(id)
    expect((await client.send('GET', path, undefined, { Range: 'bytes=0-9' })).status).toBe(206)
  })

  it('and is cancelled stops and leaves nothing', async () => {
    movies.make('cancel.avi', '-c:v mjpeg -t 0.4')
    gate.close()
    const { id, path } = await ask('cancel.avi')
    await settled(id, ['running'])
    expect((await client.send('DELETE', API.conversion(id))).status).toBe(204)
    expect((await client.conversion(id))!.state).toBe('cancelled')
    await expect.poll(() => workFolders(), { timeout: 30_000 }).toEqual([])
    expect((await client.send('GET', path)).status).toBe(404)
  })

  it('is one of two at a time, a third waits; a restarted server begins anew what it was at', async () => {
    const names = ['a.avi', 'b.avi', 'c.avi']
    for (const [i, name] of names.entries()) movies.make(name, `-c:v mjpeg -frames:v ${10 + i}`)
    gate.close()
    const asked = []
    for (const name of names) asked.push(await ask(name))
    await settled(asked[1].id, ['running'])
    expect(await client.conversion(asked[2].id)).toMatchObject({ state: 'waiting', ahead: 1 })
    await server.restart()
    gate.open()
    for (const { id, path } of asked) {
      await settled(id)
      expect((await client.send('GET', path, undefined, { Range: 'bytes=0-9' })).status).toBe(206)
    }
  })
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
    const made = await converted('stills.zip', 'stills', '29.97')
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
    expect((await failed('large.zip', 'stills')).problem).toMatch(/8192 × 8192 px, more than the 35 million/)
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
