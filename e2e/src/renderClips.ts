import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdir } from 'node:fs/promises'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { barCode, CLIP_FRAMES, CLIP_HEIGHT, CLIP_WIDTH, CLIPS, type Clip, clipTick } from './clips.ts'

/**
 * Renders the bar-coded test clips anew: `npx tsx e2e/src/renderClips.ts`. Needs ffmpeg from Debian's
 * packages; what it makes is committed.
 */
const folder = fileURLToPath(new URL('../clips', import.meta.url))
await mkdir(folder, { recursive: true })

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
    if (!child.stdin.write(barCode(frame))) await once(child.stdin, 'drain')
  child.stdin.end()
  const [code] = await once(child, 'exit')
  if (code !== 0) throw new Error(`ffmpeg ended with ${code} for ${clip.file}.`)
}

for (const clip of CLIPS) await render(clip)
