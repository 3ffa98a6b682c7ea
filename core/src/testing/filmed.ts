import type { Plane } from '../following/index.ts'
import type { Point } from '../geometry/index.ts'
import { normalSource, randomSource } from '../random/index.ts'

/** A round thing with a pattern that moves through a made-up film. */
export interface FilmedBody {
  /** Pixels. */
  radius: number
  at: (frame: number) => Point
  turn?: (frame: number) => number
  scale?: (frame: number) => number
  /** Brightness at a point of it, from −1 to 1 along each direction; usually three spots on a bright ground. */
  light?: (u: number, v: number) => number
  /** Whether a point of it, from −1 to 1 along each direction, belongs to it; usually all within the radius. */
  covers?: (u: number, v: number) => boolean
  /** Its colour differences, everywhere on it; films in which no body has any are without colours. */
  colour?: { blue: number; red: number }
}

/** A made-up film, of which everything is known. */
export interface Film {
  width: number
  height: number
  frames: number
  bodies: FilmedBody[]
  /** Drawn over everything: what hides bodies. */
  front?: (x: number, y: number, frame: number) => number | null
  background?: (x: number, y: number, frame: number) => number
  /** Light by which everything is multiplied at a place. */
  lamp?: (x: number, y: number, frame: number) => number
  /** Share of a frame's time for which the shutter is open. */
  shutter?: number
  /** Standard deviation of the noise, of 255. */
  noise?: number
  seed?: number
}

/** Points inside each pixel along each direction at which it is looked at. */
const FINE = 3

const spots = (u: number, v: number) => {
  const spot = (x: number, y: number, size: number) => Math.exp(-((u - x) ** 2 + (v - y) ** 2) / size ** 2)
  return 190 - 130 * spot(0.3, -0.2, 0.3) - 100 * spot(-0.4, 0.3, 0.35) + 50 * spot(-0.2, -0.45, 0.25)
}

/** Returns a quay of planks and stones: structure everywhere, none of it alike. */
export const clutter = (x: number, y: number): number =>
  105 +
  25 * Math.sin(x / 7.3 + Math.sin(y / 11)) +
  22 * Math.cos(y / 5.1 + x / 31) +
  12 * Math.sin((x * y) / 900)

/** Films it: brightness of every frame, as a camera sees it. */
export function filmed(film: Film): Plane[] {
  const { width, height, bodies, background = clutter, lamp = () => 1 } = film
  const normal = normalSource(randomSource(film.seed ?? 1))
  const noise = film.noise ?? 2
  const shutter = film.shutter ?? 0
  const backgroundAt = (frame: number) => {
    const light = new Float32Array(width * height)
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) light[i] = background(x, y, frame)
    return light
  }
  // One that does not ask for the frame is the same in all of them.
  const still = background.length < 3 ? backgroundAt(0) : null
  return Array.from({ length: film.frames }, (_, frame) => {
    const light = still ? still.slice() : backgroundAt(frame)
    const covers = bodies.map((body) => draw(light, film, body, frame, shutter))
    const data = new Uint8Array(width * height)
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const hiding = film.front?.(x, y, frame) ?? null
        // What hides bodies is grey.
        if (hiding !== null) for (const cover of covers) cover[i] = 0
        const value = (hiding ?? light[i]) * lamp(x, y, frame) + noise * normal()
        data[i] = Math.min(255, Math.max(0, Math.round(value)))
      }
    const plane: Plane = { x: 0, y: 0, width, height, data }
    if (bodies.some(({ colour }) => colour)) plane.chroma = chromaOf(film, covers, noise, normal)
    return plane
  })
}

/** Grey, in colour differences. */
const GREY = 128

/** Colour differences at half the size of a grey scene with coloured bodies, which cover pixels by so much. */
function chromaOf(
  { width, height, bodies }: Film,
  covers: Float32Array[],
  noise: number,
  normal: () => number,
): NonNullable<Plane['chroma']> {
  const half = { x: 0, y: 0, width: width >> 1, height: height >> 1 }
  const channel = (of: 'blue' | 'red') => {
    const data = new Uint8Array(half.width * half.height)
    for (let row = 0, to = 0; row < half.height; row++)
      for (let column = 0; column < half.width; column++, to++) {
        let value = GREY
        bodies.forEach(({ colour }, k) => {
          let share = 0
          for (const at of [0, 1, width, width + 1]) share += covers[k][2 * row * width + 2 * column + at] / 4
          value += share * ((colour?.[of] ?? GREY) - value)
        })
        data[to] = Math.min(255, Math.max(0, Math.round(value + noise * 0.5 * normal())))
      }
    return data
  }
  return { ...half, blue: channel('blue'), red: channel('red') }
}

/** Draws a body over what is there; returns the share of each pixel that it covers. */
function draw(
  light: Float32Array,
  { width, height }: Film,
  body: FilmedBody,
  frame: number,
  shutter: number,
): Float32Array {
  const covered = new Float32Array(width * height)
  const count = shutter > 0 ? 15 : 1
  const instants = Array.from({ length: count }, (_, k) => {
    const time = frame + shutter * ((k + 0.5) / count - 0.5)
    const turn = body.turn?.(time) ?? 0
    const radius = body.radius * (body.scale?.(time) ?? 1)
    return { at: body.at(time), radius, cos: Math.cos(turn), sin: Math.sin(turn) }
  })
  const here = body.at(frame)
  const [before, after] = [body.at(frame - shutter / 2), body.at(frame + shutter / 2)]
  const size = body.radius * (body.scale?.(frame) ?? 1)
  const reach = size + 2 + Math.hypot(after.x - before.x, after.y - before.y) / 2
  const { light: lightOf = spots, covers = () => true } = body
  for (let y = Math.max(0, Math.floor(here.y - reach)); y < Math.min(height, here.y + reach); y++)
    for (let x = Math.max(0, Math.floor(here.x - reach)); x < Math.min(width, here.x + reach); x++) {
      let [cover, sum] = [0, 0]
      for (const { at, radius, cos, sin } of instants)
        for (let i = 0; i < FINE * FINE; i++) {
          const dx = (x + ((i % FINE) + 0.5) / FINE - at.x) / radius
          const dy = (y + (Math.floor(i / FINE) + 0.5) / FINE - at.y) / radius
          const [u, v] = [cos * dx + sin * dy, -sin * dx + cos * dy]
          if (dx * dx + dy * dy > 1 || !covers(u, v)) continue
          cover++
          sum += lightOf(u, v)
        }
      const all = count * FINE * FINE
      light[y * width + x] = light[y * width + x] * (1 - cover / all) + sum / all
      covered[y * width + x] = cover / all
    }
  return covered
}
