import { type Candidate, searchPatch } from '../following/match.ts'
import { roundOutline } from '../following/outline.ts'
import { renderPatch } from '../following/patch.ts'
import { sceneBytes, scenesOf } from '../following/scene.ts'
import { learnTemplate } from '../following/template.ts'
import { withArena } from '../kernels/index.ts'
import { clutter, filmed } from './filmed.ts'

/**
 * Returns a match as following makes it, for the benchmark: a patch of 24 x 24 pixels, looked for in a reach of 128 x 128 around
 * where it is not, over and over.
 *
 * @returns what makes so many matches in one frame, and gives the best place of the last one
 */
export function matching(): (times: number) => Candidate | undefined {
  const at = { x: 120, y: 110 }
  const body = { radius: 9, at: (frame: number) => ({ x: at.x + 40 * frame, y: at.y - 30 * frame }) }
  const film = { width: 256, height: 224, frames: 2, bodies: [body], background: clutter, noise: 2 }
  const [before, now] = filmed(film)
  const template = learnTemplate(before, at, roundOutline(body.radius), 0)
  const pose = { ...at, scale: 1, turn: 0 }
  return (times) =>
    withArena(2 * sceneBytes(now, 64), () => {
      const scenes = scenesOf(now, 4)
      const patch = renderPatch(template, pose, { x: 0, y: 0 }, false)
      let best: Candidate | undefined
      for (let k = 0; k < times; k++)
        best = withArena(sceneBytes(now, 64), () => searchPatch(scenes, patch, pose, 64, 2)).at(0)
      return best
    })
}
