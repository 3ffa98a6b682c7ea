import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { clientOf, uuid } from '../testing/client.ts'
import { Conversions } from '../testing/conversions.ts'
import { Movies, probedTimes } from '../testing/movies.ts'
import { type TestServer, testServer } from '../testing/testServer.ts'
import { pathOf } from './blobStore.ts'
import { eraseUnused } from './links.ts'

const movies = new Movies()
let server: TestServer
let client: ReturnType<typeof clientOf>
let conversions: Conversions

beforeAll(async () => {
  server = await testServer()
  client = clientOf(server)
  conversions = new Conversions(server, movies)
})
afterAll(async () => {
  await server?.stop()
  movies.remove()
})

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
    const made = await conversions.converted(name)
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
    const made = await conversions.converted('cut.mp4')
    expect(probedTimes(made)).toHaveLength(probedTimes(source).length)
    expect(Number.parseInt(packets, 10)).toBeGreaterThan(probedTimes(made).length)
  })

  it('maps high dynamic range to a normal picture of 8 bits', async () => {
    movies.make(
      'phone.mov',
      '-c:v libx265 -pix_fmt yuv420p10le -color_primaries bt2020 -color_trc arib-std-b67 -colorspace bt2020nc -x265-params log-level=none:colorprim=bt2020:transfer=arib-std-b67:colormatrix=bt2020nc',
    )
    const made = probed(await conversions.converted('phone.mov'))
    expect(made).toMatchObject({ codec_name: 'h264', pix_fmt: 'yuv420p' })
    expect(made.color_transfer ?? 'bt709').toBe('bt709')
  })

  it('takes the fields of an interlaced picture apart, each with its own time', async () => {
    const source = movies.make(
      'fields.ts',
      '-vf tinterlace=mode=interleave_top,fieldorder=tff -flags +ildct+ilme -c:v mpeg2video -b:v 4M',
      '-f lavfi -i testsrc2=size=160x120:rate=50:duration=0.8',
    )
    const [is, was] = [probedTimes(await conversions.converted('fields.ts')), probedTimes(source)]
    expect(is).toHaveLength(2 * was.length)
    is.forEach((time, field) => {
      expect(time).toBeCloseTo(field * 0.02, 6)
    })
  })

  it('makes pixels square, sides even, and turns the picture upright', async () => {
    movies.make('wide.avi', '-c:v mpeg4 -vf setsar=4/3')
    expect(probed(await conversions.converted('wide.avi'))).toMatchObject({ width: 214, height: 120 })
    movies.make(
      'odd.avi',
      '-c:v mjpeg -pix_fmt yuvj444p',
      '-f lavfi -i testsrc=size=161x121:rate=25:duration=0.4',
    )
    expect(probed(await conversions.converted('odd.avi'))).toMatchObject({ width: 162, height: 122 })
    movies.make('lying.mov', '-c:v mpeg4')
    movies.make('turned.mov', '-c copy -metadata:s:v:0 rotate=90', `-i ${movies.path('lying.mov')}`)
    expect(probed(await conversions.converted('turned.mov'))).toMatchObject({ width: 120, height: 160 })
  })

  it('keeps the capture rate that a phone noted', async () => {
    movies.make('slow.mp4', '-c:v mpeg4 -movflags use_metadata_tags -metadata com.android.capture.fps=240.0')
    const made = await conversions.converted('slow.mp4')
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
    const frames = probedTimes(await conversions.converted('cutoff.avi')).length
    expect(frames).toBeGreaterThan(5)
    expect(frames).toBeLessThan(24)
  })

  it('of a single frame, and of 5000 small ones', async () => {
    movies.make('one.avi', '-frames:v 1 -c:v mjpeg')
    expect(probedTimes(await conversions.converted('one.avi'))).toHaveLength(1)
    movies.make('many.gif', '', '-f lavfi -i testsrc2=size=16x16:rate=50:duration=100')
    expect(probedTimes(await conversions.converted('many.gif'))).toHaveLength(5000)
  })

  it('made before is used again, and the original is kept', async () => {
    movies.make('twice.avi', '-c:v mjpeg -t 0.2')
    await conversions.converted('twice.avi')
    const { id } = await conversions.ask('twice.avi')
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
    const { state, problem } = await conversions.failed(name)
    execFileSync('rm', [movies.path(name)])
    expect(state).toBe('failed')
    expect(problem).toMatch(says)
  })
})

describe('the conversion that is told', () => {
  it('is the latest one, also where the clock was set back between two', async () => {
    movies.make('first.avi', '-c:v mjpeg -frames:v 4')
    movies.make('second.avi', '-c:v mjpeg -frames:v 5')
    const { id } = await conversions.ask('first.avi')
    await conversions.settled(id)
    await server.services
      .database('conversions')
      .where({ investigation_id: id })
      .update({ created_at: new Date(Date.now() + 86_400_000) })
    await client.claim(id, uuid(), movies.read('second.avi'), { kind: 'video', name: 'second.avi' })
    await conversions.settled(id)
    expect((await client.conversion(id))!.name).toBe('second.avi')
  })
})
