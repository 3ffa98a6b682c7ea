import { execFileSync, spawn } from 'node:child_process'
import { once } from 'node:events'
import { writeFileSync } from 'node:fs'
import { mkdir, stat, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Footage } from '@apokinema/core/investigation'
import { encodeTicks } from '@apokinema/core/time'
import { film, truthOf } from './film.ts'
import { SAMPLES, type Sample } from './samples/index.ts'
import { stillScene } from './scenery.ts'
import { listedSeries, SAMPLE_SERIES, TRIAL_SAMPLES } from './series/index.ts'

/**
 * Renders the sample footage anew: `npm run render [id …]`. Needs ffmpeg from Debian's packages. What it
 * makes is committed, so nobody has to run it to use the product.
 */

function ffmpeg(args: string[]) {
  const child = spawn('ffmpeg', ['-hide_banner', '-loglevel', 'error', '-y', ...args], {
    stdio: ['pipe', 'inherit', 'inherit'],
  })
  const done = once(child, 'exit').then(([code]) => {
    if (code !== 0) throw new Error(`ffmpeg ended with ${code}.`)
  })
  return { input: child.stdin, done }
}

/** Returns what the product needs to know of the sample: words for its list, and the facts of its footage. */
async function sampleOf({ id, title, about, width, height, captureRate }: Sample, movie: string) {
  const probe = (entries: string) =>
    execFileSync(
      'ffprobe',
      ['-v', 'error', '-select_streams', 'v', '-show_entries', entries, '-of', 'csv=p=0', movie],
      {
        encoding: 'utf8',
      },
    )
  const [numerator, denominator] = probe('stream=time_base').trim().split('/').map(Number)
  const ticks = probe('packet=pts')
    .trim()
    .split('\n')
    .map((line) => Number.parseInt(line, 10))
    .sort((a, b) => a - b)
  const { size } = await stat(movie)
  const timeBase = { numerator, denominator }
  return {
    id,
    order: SAMPLES.findIndex((sample) => sample.id === id),
    title,
    about,
    footage: {
      name: `${id}.mp4`,
      size,
      width,
      height,
      timeBase,
      ticks: encodeTicks(ticks),
      rotation: 0,
      notedCaptureRate: captureRate ?? null,
      converted: false,
    } satisfies Omit<Footage, 'id'>,
  }
}

const SAMPLES_FOLDER = fileURLToPath(new URL('../samples', import.meta.url))
const SERIES_FOLDER = fileURLToPath(new URL('../series', import.meta.url))

/** Renders a sample into a folder of its id. */
async function render(sample: Sample, within = SAMPLES_FOLDER): Promise<void> {
  const folder = join(within, sample.id)
  await mkdir(folder, { recursive: true })
  const movie = join(folder, 'footage.mp4')
  const size = `${sample.width}x${sample.height}`
  const encoder = ffmpeg(
    `-f rawvideo -pix_fmt rgb24 -s ${size} -r ${sample.rate} -i - -an -c:v libx264 -preset slow -tune grain -crf ${sample.quality ?? 22} -g 60 -bf 2
     -pix_fmt yuv420p -vf scale=out_color_matrix=bt709 -colorspace bt709 -color_primaries bt709 -color_trc bt709
     -map_metadata -1 ${sample.captureRate ? `-metadata com.android.capture.fps=${sample.captureRate}` : ''} -fflags +bitexact -flags:v +bitexact -movflags +faststart${sample.captureRate ? '+use_metadata_tags' : ''} ${movie}`.split(
      /\s+/,
    ),
  )
  for (const picture of film(sample)) if (!encoder.input.write(picture)) await once(encoder.input, 'drain')
  encoder.input.end()
  await encoder.done

  const still = ffmpeg(
    `-i ${movie} -vf select=eq(n\\,${sample.poster}),scale=640:-2 -frames:v 1 -q:v 4 -bitexact ${join(folder, 'poster.jpg')}`.split(
      ' ',
    ),
  )
  still.input.end()
  await still.done
  await writeFile(join(folder, 'truth.json'), `${JSON.stringify(truthOf(sample), null, 1)}\n`)
  await writeFile(join(folder, 'sample.json'), `${JSON.stringify(await sampleOf(sample, movie), null, 1)}\n`)
  console.log(`${sample.id}: ${((await stat(movie)).size / 1e6).toFixed(2)} MB`)
}

/** Draws the quay under the crane without its pebble, which the practice camera films. */
function renderPractice(): void {
  const { width, height, still } = SAMPLES.find(({ id }) => id === 'crane-pebble')!
  const canvas = stillScene(width, height, [still])
  const path = fileURLToPath(new URL('../../web/src/record/quay.jpg', import.meta.url))
  writeFileSync(path, canvas.toBuffer('image/jpeg', 90))
}

const wanted = process.argv.slice(2)
if (wanted.length === 0 || wanted.includes('practice')) renderPractice()
const isWanted = ({ id }: Sample) => wanted.length === 0 || wanted.includes(id)
for (const sample of SAMPLES.filter(isWanted)) await render(sample)
for (const trial of TRIAL_SAMPLES.filter(isWanted)) await render(trial, SERIES_FOLDER)
await writeFile(
  join(SERIES_FOLDER, 'series.json'),
  `${JSON.stringify(SAMPLE_SERIES.map(listedSeries), null, 1)}\n`,
)
