import { GREY, type Plane } from './grid.ts'
import { depthIn, type Outline } from './outline.ts'
import type { Pose } from './template.ts'

/** Mean colour differences (Cb, Cr) of a body, relative to grey. */
export interface BodyColour {
  blue: number
  red: number
}

/** Chroma pixels within a body that tell its colour at least. */
const FEWEST = 9
/** A colour is another one if it is off by more than so much, and by more than this share of its distance from grey. */
const OTHER = { least: 14, share: 0.5 }

/**
 * Returns the mean colour within a body's outline at a pose, which does not change when a pattern turns; null if the
 * frame has no colours, or too few pixels lie within.
 */
export function colourWithin(
  { chroma }: Plane,
  outline: Outline,
  { x, y, scale, turn }: Pose,
): BodyColour | null {
  if (!chroma) return null
  const depthAt = depthIn(outline)
  const [cos, sin] = [Math.cos(turn) / scale, Math.sin(turn) / scale]
  const reach = (scale * Math.max(...outline.radii)) / 2
  const [left, right] = [Math.max(0, Math.floor(x / 2 - reach - chroma.x)), x / 2 + reach - chroma.x]
  const [top, bottom] = [Math.max(0, Math.floor(y / 2 - reach - chroma.y)), y / 2 + reach - chroma.y]
  let [blue, red, count] = [0, 0, 0]
  for (let row = top; row < Math.min(chroma.height, bottom); row++)
    for (let column = left; column < Math.min(chroma.width, right); column++) {
      const [dx, dy] = [2 * (chroma.x + column) + 1 - x, 2 * (chroma.y + row) + 1 - y]
      // Colours bleed over edges: only what lies well within counts.
      if (depthAt(cos * dx + sin * dy, cos * dy - sin * dx) < 1) continue
      blue += chroma.blue[row * chroma.width + column]
      red += chroma.red[row * chroma.width + column]
      count++
    }
  return count < FEWEST ? null : { blue: blue / count - GREY, red: red / count - GREY }
}

/** Returns true if a colour can't be that of a body, even where part of it is hidden. */
export function isOtherColour(found: BodyColour, body: BodyColour): boolean {
  const off = Math.hypot(found.blue - body.blue, found.red - body.red)
  return off > Math.max(OTHER.least, OTHER.share * Math.hypot(body.blue, body.red))
}

/** A body's colour follows what is seen of it by this share, where it is off by so little: light changes along its way. */
const FOLLOWS = { share: 0.1, most: 5 }

/**
 * Returns a body's colour updated with a new observation; unchanged if the new one may belong to something that hides
 * part of the body.
 */
export function renewedColour(body: BodyColour, seen: BodyColour): BodyColour {
  const [blue, red] = [seen.blue - body.blue, seen.red - body.red]
  if (Math.hypot(blue, red) > FOLLOWS.most) return body
  return { blue: body.blue + FOLLOWS.share * blue, red: body.red + FOLLOWS.share * red }
}
