import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdir } from 'node:fs/promises'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { BITS, CLIP_FRAMES, CLIP_HEIGHT, CLIP_WIDTH, CLIPS, type Clip, clipTick } from './clips.ts'

/**
 * Renders the bar-coded test clips anew: `npx tsx e2e/src/renderClips.ts`. Needs ffmpeg from Debian's
 * packages; what it makes is committed.
 */
const folder = fileURLToPath(new URL('../clips', import.meta.url))
await mkdir(folder, { recursive: true })

function picture(frame: number): Buffer {
  const gray = Buffer.alloc(CLIP_WIDTH * CLIP_HEIGHT, 128)
  const block = CLIP_WIDTH / BITS
  for (let y = 0; y < CLIP_HEIGHT; y++)
    for (let x = 0; x < CLIP_WIDTH; x++) {
      const bit = Math.floor(x / block)
      const inBar = y < CLIP_HEIGHT * 0.6
      // Below the bars a moving gradient, so that there is something to predict between frames.
      gray[y * CLIP_WIDTH + x] = inBar ? ((frame >> bit) & 1 ? 235 : 20) : (x * 2 + frame * 5 + y) & 255
    }
  return gray
}

async function render(clip: Clip): Promise<void> {
  const ticks = clip.uneven
    ? [
        '-vf',
        `settb=1/${clip.timescale},setpts='${clipTick(clip, 'N')}'`,
        '-fps_mode',
        'passthrough',
        '-enc_time_base',
        `1:${clip.timescale}`,
      ]
    : []
  const child = spawn(
    'ffmpeg',
    [
      ...`-hide_banner -loglevel error -y -f rawvideo -pix_fmt gray -s ${CLIP_WIDTH}x${CLIP_HEIGHT} -r ${clip.rate} -i - -an`.split(
        ' ',
      ),
      ...ticks,
      ...clip.codec.split(' '),
      ...'-pix_fmt yuv420p -map_metadata -1 -fflags +bitexact -flags:v +bitexact'.split(' '),
      ...(clip.file.endsWith('.webm') ? [] : ['-video_track_timescale', String(clip.timescale)]),
      join(folder, clip.file),
    ],
    { stdio: ['pipe', 'inherit', 'inherit'] },
  )
  for (let frame = 0; frame < CLIP_FRAMES; frame++)
    if (!child.stdin.write(picture(frame))) await once(child.stdin, 'drain')
  child.stdin.end()
  const [code] = await once(child, 'exit')
  if (code !== 0) throw new Error(`ffmpeg ended with ${code} for ${clip.file}.`)
}

for (const clip of CLIPS) await render(clip)

/** A clip that Debian's Chromium cannot decode, for what the page says then. */
const undecodable = spawn('ffmpeg', [
  ...'-hide_banner -loglevel error -y -f lavfi -i testsrc=size=320x180:rate=30:duration=0.5'.split(' '),
  ...'-c:v libx265 -tag:v hvc1 -pix_fmt yuv420p -map_metadata -1 -x265-params log-level=none'.split(' '),
  join(folder, 'hevc.mp4'),
])
await once(undecodable, 'exit')
