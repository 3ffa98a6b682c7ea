import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { IS_SLOW } from '@apokinema/core/testing/extent'
import { keepFixture, restoreFixture } from '@apokinema/server/testing/fixtureCache'
import { probedTimes } from '@apokinema/server/testing/movies'
import { zipSync } from 'fflate'
import type { Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { barCode, CLIP_HEIGHT, CLIP_WIDTH } from './clips.ts'
import { showFrames, waitForFrame } from './page.ts'
import { pageTests } from './pageTests.ts'
import { documentOf, go } from './work.ts'

/** Whatever a phone, a camera or a school laptop hands over opens, shows the asked frame, and has its true times. */

const FRAMES = 90
/** Frames before which most of the encoders below put a key frame. */
const KEY_FRAMES = [12, 60]
const QUIET265 = '-x265-params log-level=none:keyint=60'
const UNEVEN = "-vf setpts='(N*6+mod(N*7,5))/TB/180' -fps_mode passthrough"

interface Format {
  file: string
  /** What ffmpeg makes it with. */
  output: string
  /** Whether the page hands it to the server. */
  converted: boolean
  /** Number that the bars of the first frame say. */
  first?: number
  /**
   * Whether it is left to the slow run: one file of each container that browsers read, of each codec, and of what is
   * converted with a cut or high range stands for the others here.
   */
  isSlow?: boolean
}

const FORMATS: Format[] = [
  { file: 'h264.mkv', output: `${UNEVEN} -c:v libx264 -g 60 -bf 2`, converted: false },
  { file: 'h264-lying.mov', output: '-vf transpose=cclock -c:v libx264 -g 60', converted: false },
  { file: 'h264-cut.mp4', output: '-c:v libx264 -g 90 -bf 2', converted: false, first: 20, isSlow: true },
  { file: 'vp8.webm', output: '-c:v libvpx -b:v 1M', converted: false },
  { file: 'vp9.mkv', output: `${UNEVEN} -c:v libvpx-vp9 -b:v 1M`, converted: false, isSlow: true },
  { file: 'av1.mp4', output: '-c:v libsvtav1 -preset 10 -crf 30 -g 60', converted: false, isSlow: true },
  { file: 'av1.webm', output: '-c:v libsvtav1 -preset 10 -crf 30 -g 60', converted: false },
  { file: 'hevc.mp4', output: `-c:v libx265 -tag:v hvc1 ${QUIET265}`, converted: true, isSlow: true },
  {
    file: 'hevc-hdr.mov',
    output: `${UNEVEN} -enc_time_base 1:1800 -video_track_timescale 1800 -c:v libx265 -tag:v hvc1 -pix_fmt yuv420p10le -color_primaries bt2020 -color_trc arib-std-b67 -colorspace bt2020nc ${QUIET265}:colorprim=bt2020:transfer=arib-std-b67:colormatrix=bt2020nc`,
    converted: true,
    isSlow: true,
  },
  {
    file: 'hevc-cut.mp4',
    output: `-c:v libx265 -tag:v hvc1 -x265-params log-level=none:keyint=90:scenecut=0`,
    converted: true,
    first: 20,
  },
  { file: 'mjpeg.avi', output: '-c:v mjpeg -q:v 3 -pix_fmt yuvj420p', converted: true, isSlow: true },
  { file: 'mpeg4.avi', output: '-c:v mpeg4 -q:v 3', converted: true, isSlow: true },
  { file: 'camera.wmv', output: '-c:v wmv2 -b:v 2M', converted: true, isSlow: true },
  { file: 'camera.ts', output: '-c:v mpeg2video -b:v 3M -bf 2', converted: true, isSlow: true },
  { file: 'h264.ts', output: '-c:v libx264 -g 60 -bf 2', converted: true, isSlow: true },
  {
    file: 'animation.gif',
    output: '-vf settb=1/100,setpts=N*4 -fps_mode passthrough',
    converted: true,
    isSlow: true,
  },
]

const given = pageTests()
let folder: string

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'apokinema-formats-'))
})
afterAll(() => {
  rmSync(folder, { recursive: true, force: true })
})

/** Runs ffmpeg on the bar-coded pictures, or on a file that is there. */
async function make(args: string, output: string, from?: string): Promise<string> {
  const path = join(folder, output)
  // The pictures have one numbering and size; stills are many files, and cuts are quick.
  const key = from || output.includes('%') ? null : `bars ${FRAMES} ${CLIP_WIDTH}x${CLIP_HEIGHT} ${args}`
  if (key && restoreFixture(key, path)) return path
  const input = from
    ? args
        .split(' ')
        .slice(0, args.startsWith('-ss') ? 2 : 0)
        .concat('-i', join(folder, from))
    : `-f rawvideo -pix_fmt gray -s ${CLIP_WIDTH}x${CLIP_HEIGHT} -r 30 -i -`.split(' ')
  const rest = (from && args.startsWith('-ss') ? args.split(' ').slice(2) : args.split(' ')).filter(Boolean)
  const pixels =
    args.includes('pix_fmt') || args.includes('copy') || output.endsWith('.gif')
      ? []
      : ['-pix_fmt', 'yuv420p']
  const child = spawn('ffmpeg', ['-v', 'error', '-y', ...input, ...rest, ...pixels, path], {
    stdio: ['pipe', 'inherit', 'inherit'],
    env: { ...process.env, SVT_LOG: '1' },
  })
  const done = once(child, 'exit')
  if (!from)
    for (let frame = 0; frame < FRAMES; frame++)
      if (!child.stdin.write(barCode(frame))) await once(child.stdin, 'drain')
  child.stdin.end()
  const [code] = await done
  if (code !== 0) throw new Error(`ffmpeg ended with ${code} for ${output}.`)
  if (key) keepFixture(key, path)
  return path
}

async function makeFormat({ file, output, first }: Format): Promise<string> {
  if (file === 'h264-lying.mov') {
    await make(output, 'upright.mov')
    return make('-c copy -metadata:s:v:0 rotate=-90', file, 'upright.mov')
  }
  if (first !== undefined) {
    await make(output, `whole-${file}`)
    return make(`-ss ${((first - 0.2) / 30).toFixed(4)} -c copy`, file, `whole-${file}`)
  }
  return make(output, file)
}

/** Returns the frames that are looked at: the ends, both sides of key frames, and a dozen elsewhere; all of them in the slow run. */
function chosenFrames(count: number): number[] {
  if (IS_SLOW) return Array.from({ length: count }, (_, frame) => frame)
  const sides = KEY_FRAMES.flatMap((key) => [key - 1, key, key + 1])
  const elsewhere = Array.from({ length: 12 }, (_, i) => (17 + 53 * i) % count)
  return [...new Set([count - 1, ...sides, ...elsewhere, 0])].filter((frame) => frame < count)
}

async function expectTruth(page: Page, times: number[], first: number): Promise<void> {
  const last = times.length - 1
  await page.locator(`[data-span="0 – ${last} of ${last}"]`).waitFor()
  const frames = chosenFrames(times.length)
  const shown = await showFrames(page, frames)
  expect(shown.map(({ bars }) => bars)).toEqual(frames.map((frame) => first + frame))
  shown.forEach(({ seconds }, i) => {
    expect(seconds).toBeCloseTo(times[frames[i]], 3)
  })
}

describe('a file opens and shows every frame at its time', () => {
  it.each(FORMATS.filter(({ isSlow }) => IS_SLOW || !isSlow))('$file', async (format) => {
    const path = await makeFormat(format)
    const times = probedTimes(path)
    const { page } = given
    await go(given.server, page, '/')
    await page.getByLabel('Video file').setInputFiles(path)
    await waitForFrame(page, 0)
    await expect
      .poll(async () => (await documentOf(given.server, page)).document.footage?.converted)
      .toBe(format.converted)
    await expectTruth(page, times, format.first ?? 0)
  })

  it.each(['several pictures', ...(IS_SLOW ? ['a ZIP'] : [])])(
    'numbered stills chosen as %s',
    async (how) => {
      const stills = join(folder, how)
      mkdirSync(stills)
      await make('', join(how, 'quay %d.png'))
      const names = readdirSync(stills).map((name) => join(stills, name))
      expect(names).toHaveLength(FRAMES)
      const { page } = given
      await go(given.server, page, '/')
      if (how === 'a ZIP') {
        zipOf(names, join(folder, 'stills.zip'))
        await page.getByLabel('Video file').setInputFiles(join(folder, 'stills.zip'))
      } else await page.getByLabel('Video file').setInputFiles(names)
      await page.getByLabel('How many were taken a second?').fill('29.97')
      await page.getByRole('button', { name: 'Make the film' }).click()
      await waitForFrame(page, 0)
      // ffmpeg numbers its stills from 1 on, and names them in the order of frames.
      await expectTruth(
        page,
        Array.from({ length: FRAMES }, (_, frame) => frame / 29.97),
        0,
      )
    },
  )
})

/** Packs files as they are, for a ZIP that a person has made. */
function zipOf(paths: string[], to: string): void {
  const entries = paths.map((path) => [path.split('/').at(-1)!, readFileSync(path)])
  writeFileSync(to, zipSync(Object.fromEntries(entries)))
}
