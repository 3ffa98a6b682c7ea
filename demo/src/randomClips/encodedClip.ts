import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Plane } from '@apokinema/core/following'
import { film } from '../film.ts'
import { frameBytes, planeOf } from '../planes.ts'
import type { RandomClip } from './randomClip.ts'

const quiet = ['-hide_banner', '-loglevel', 'error', '-y']

/** A clip on disk, in a folder of its own that is erased on `dispose`. */
export class EncodedClip implements Disposable {
  private constructor(
    private readonly folder: string,
    readonly path: string,
    private readonly clip: RandomClip,
  ) {}

  /** Films and encodes a clip with ffmpeg. */
  static async of(clip: RandomClip): Promise<EncodedClip> {
    const folder = mkdtempSync(join(tmpdir(), 'apokinema-clip-'))
    const { encoder, width, height, rate } = clip
    const path = join(folder, encoder.codec === 'mjpeg' ? 'clip.avi' : 'clip.mp4')
    const raw = `-f rawvideo -pix_fmt rgb24 -s ${width}x${height} -r ${rate} -i - -an`
    const codec =
      encoder.codec === 'mjpeg'
        ? `-c:v mjpeg -q:v ${encoder.quality} -pix_fmt yuvj420p`
        : `-c:v libx264 -preset medium -crf ${encoder.crf} -g ${encoder.keyEvery} -pix_fmt yuv420p -vf scale=out_color_matrix=bt709`
    const child = spawn('ffmpeg', [...quiet, ...`${raw} ${codec}`.split(' '), path], {
      stdio: ['pipe', 'ignore', 'inherit'],
    })
    const done = once(child, 'exit')
    for (const picture of film(clip)) if (!child.stdin.write(picture)) await once(child.stdin, 'drain')
    child.stdin.end()
    const [code] = await done
    if (code !== 0) throw new Error(`ffmpeg ended with ${code}.`)
    return new EncodedClip(folder, path, clip)
  }

  /** The frames in order as following reads them: brightness, and colour differences at half the size. */
  async *frames(): AsyncGenerator<Plane> {
    const { width, height } = this.clip
    const words = `-i ${this.path} -pix_fmt yuv420p -f rawvideo -`
    const child = spawn('ffmpeg', [...quiet, ...words.split(' ')], { stdio: ['ignore', 'pipe', 'inherit'] })
    const size = frameBytes(width, height)
    let frame = new Uint8Array(size)
    let filled = 0
    try {
      for await (const piece of child.stdout as AsyncIterable<Buffer>)
        for (let from = 0; from < piece.length; ) {
          const taken = Math.min(size - filled, piece.length - from)
          frame.set(piece.subarray(from, from + taken), filled)
          from += taken
          filled += taken
          if (filled < size) continue
          yield planeOf(frame, width, height)
          frame = new Uint8Array(size)
          filled = 0
        }
    } finally {
      // Whoever takes only some of the frames leaves it running.
      child.kill('SIGKILL')
    }
  }

  [Symbol.dispose](): void {
    rmSync(this.folder, { recursive: true })
  }
}
