import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { keepFixture, restoreFixture } from './fixtureCache.ts'

/** Small films for tests, made by ffmpeg in a folder of their own. */
export class Movies {
  private readonly folder = mkdtempSync(join(tmpdir(), 'apokinema-movies-'))

  path(name: string): string {
    return join(this.folder, name)
  }

  /**
   * Makes a file from a moving test picture.
   *
   * @param output what stands between input and file name, as it would be typed
   * @param input  another source than the usual 24 frames of 160 × 120 px at 25 a second
   */
  make(
    name: string,
    output: string,
    input = '-f lavfi -i testsrc2=size=160x120:rate=25:duration=0.96',
  ): string {
    const path = this.path(name)
    const command = `-v error -y ${input} ${output}`
    // What is made from another file of this folder follows from more than the command.
    const key = command.includes(this.folder) ? null : command
    if (key && restoreFixture(key, path)) return path
    const words = command.split(/\s+/).filter(Boolean)
    execFileSync('ffmpeg', [...words, path], { stdio: ['ignore', 'ignore', 'inherit'] })
    if (key) keepFixture(key, path)
    return path
  }

  read(name: string): Buffer {
    return readFileSync(this.path(name))
  }

  remove(): void {
    rmSync(this.folder, { recursive: true, force: true })
  }
}

/**
 * Returns the seconds of every frame that ffprobe decodes from a file, from the first frame on, edit lists applied:
 * the truth that a conversion is held against.
 */
export function probedTimes(path: string): number[] {
  const { streams, frames } = JSON.parse(
    execFileSync(
      'ffprobe',
      [
        ...'-v error -select_streams v:0 -show_entries stream=time_base:frame=best_effort_timestamp'.split(
          ' ',
        ),
        ...['-of', 'json', path],
      ],
      { encoding: 'utf8', maxBuffer: 64e6 },
    ),
  ) as { streams: { time_base: string }[]; frames: { best_effort_timestamp: number }[] }
  const [numerator, denominator] = streams[0].time_base.split('/').map(Number)
  const first = frames[0].best_effort_timestamp
  return frames.map((frame) => ((frame.best_effort_timestamp - first) * numerator) / denominator)
}
