/** How a frame differs from a known background, in standard deviations of the noise; and what of it that covers. */
import { extreme } from './morphology'
import { at, isUnknown, put } from './sampling'

/**
 * A shadow: share of the background's light that is left in the deepest, and from where on it counts as one; deviations by
 * which colours change in it at most, and from where on it counts as none.
 */
const DEEPEST: f32 = 0.5
const SURE: f32 = 0.58
const LEAST_COLOUR: f32 = 3
const MOST_COLOUR: f32 = 6

/** Four bytes as numbers. */
function fourBytes(place: usize): v128 {
  const wide = i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(place)))
  return f32x4.convert_i32x4_u(wide)
}

function clamped(value: v128): v128 {
  return f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), value))
}

/**
 * Share of the background's light that each pixel of a frame has; 1 where it is as bright or brighter. Lists are read and
 * written in fours.
 *
 * @param black brightness of black
 * @param gain of the frame over the background
 */
export function shade(frame: usize, background: usize, count: i32, black: f32, gain: f32, to: usize): void {
  for (let k = 0; k < count; k += 4) {
    const offset = (<usize>k) << 2
    const light = f32x4.sub(fourBytes(frame + k), f32x4.splat(black))
    const behind = f32x4.mul(f32x4.splat(gain), f32x4.sub(v128.load(background + offset), f32x4.splat(black)))
    v128.store(to + offset, clamped(f32x4.div(light, f32x4.pmax(f32x4.splat(1), behind))))
  }
}

/**
 * Squared difference of colours from the background's, in deviations; 0 where that is not known. All on the same pixels,
 * read and written in fours.
 *
 * @param left share of the background's light by which its colours are dimmed as well; 0 for none
 */
export function colourDifference(
  blue: usize,
  red: usize,
  behindBlue: usize,
  behindRed: usize,
  known: usize,
  left: usize,
  count: i32,
  grey: f32,
  noise: f32,
  to: usize,
): void {
  const middle = f32x4.splat(grey)
  const each = f32x4.splat(1 / noise)
  let share = f32x4.splat(1)
  for (let k = 0; k < count; k += 4) {
    const offset = (<usize>k) << 2
    if (left) share = v128.load(left + offset)
    const b = f32x4.mul(each, awayFrom(blue + k, behindBlue + offset, share, middle))
    const r = f32x4.mul(each, awayFrom(red + k, behindRed + offset, share, middle))
    const squared = f32x4.add(f32x4.mul(b, b), f32x4.mul(r, r))
    const isKnown = f32x4.ge(v128.load(known + offset), f32x4.splat(0.5))
    v128.store(to + offset, v128.and(squared, isKnown))
  }
}

/** Difference of four colours from those behind them, dimmed. */
function awayFrom(colour: usize, behind: usize, share: v128, grey: v128): v128 {
  const dimmed = f32x4.mul(share, f32x4.sub(v128.load(behind), grey))
  return f32x4.sub(f32x4.sub(fourBytes(colour), grey), dimmed)
}

/**
 * Mean over the two by two pixels of a grid that each pixel of a grid of half the size stands for, as far as the first one
 * goes; 1 where it does not.
 *
 * @param x @param y first pixel of the grid; `toX`, `toY` that of the smaller one
 */
export function halfMean(
  from: usize,
  x: i32,
  y: i32,
  width: i32,
  height: i32,
  toX: i32,
  toY: i32,
  columns: i32,
  rows: i32,
  to: usize,
): void {
  for (let row = 0; row < rows; row++) {
    const top = max(0, 2 * (toY + row) - y)
    const bottom = min(height, 2 * (toY + row) - y + 2)
    for (let column = 0; column < columns; column++) {
      const left = max(0, 2 * (toX + column) - x)
      const right = min(width, 2 * (toX + column) - x + 2)
      let sum: f32 = 0
      let count: f32 = 0
      for (let v = top; v < bottom; v++)
        for (let u = left; u < right; u++, count++) sum += at(from, v * width + u)
      put(to, row * columns + column, count > 0 ? sum / count : 1)
    }
  }
}

/**
 * A grid at twice its size, between pixels by the nearest four; 0 where those are not all there.
 *
 * @param x @param y first pixel of the small grid; `toX`, `toY` that of the large one
 * @param line room for as many numbers as the small grid is wide
 */
export function enlarge(
  from: usize,
  x: i32,
  y: i32,
  width: i32,
  height: i32,
  toX: i32,
  toY: i32,
  columns: i32,
  rows: i32,
  to: usize,
  line: usize,
): void {
  for (let row = 0; row < rows; row++) {
    const target = to + ((<usize>(row * columns)) << 2)
    // The middle of a pixel lies a quarter before or behind that of the small one it is in.
    const isLower = (toY + row) & 1
    const top = ((toY + row) >> 1) - y - (isLower ? 0 : 1)
    if (top < 0 || top + 1 >= height) {
      for (let column = 0; column < columns; column++) put(target, column, 0)
      continue
    }
    const down: f32 = isLower ? 0.25 : 0.75
    const upper = from + ((<usize>(top * width)) << 2)
    const lower = upper + ((<usize>width) << 2)
    for (let k = 0; k < width; k++) put(line, k, at(upper, k) + down * (at(lower, k) - at(upper, k)))
    for (let column = 0; column < columns; column++) {
      const isRight = (toX + column) & 1
      const left = ((toX + column) >> 1) - x - (isRight ? 0 : 1)
      const isInside = left >= 0 && left + 1 < width
      const across: f32 = isRight ? 0.25 : 0.75
      const value: f32 = isInside ? at(line, left) + across * (at(line, left + 1) - at(line, left)) : 0
      put(target, column, value)
    }
  }
}

/**
 * Difference of a frame from the background in deviations, over brightness and colours together; NaN where the background
 * is not known. Lists are read and written in fours.
 *
 * @param known 1 where the background is known, 0 where not
 * @param colours squared difference of colours; 0 for none
 * @param shades shares of the background's light, for a pixel that is only darker, with the background's own colour, to
 *   count as a shadow; 0 for all to count in full
 * @param expected square of the difference where nothing is
 */
export function difference(
  frame: usize,
  background: usize,
  known: usize,
  colours: usize,
  shades: usize,
  count: i32,
  black: f32,
  gain: f32,
  noise: f32,
  expected: f32,
  to: usize,
): void {
  const zero = f32x4.splat(0)
  let colour = zero
  for (let k = 0; k < count; k += 4) {
    const offset = (<usize>k) << 2
    const behind = f32x4.mul(f32x4.splat(gain), f32x4.sub(v128.load(background + offset), f32x4.splat(black)))
    const bright = f32x4.sub(fourBytes(frame + k), f32x4.splat(black))
    let light = f32x4.mul(f32x4.splat(1 / noise), f32x4.sub(bright, behind))
    if (colours) colour = v128.load(colours + offset)
    if (shades) {
      const shadow = shadowiness(v128.load(shades + offset), colour)
      const isDarker = f32x4.lt(light, zero)
      light = f32x4.mul(light, f32x4.sub(f32x4.splat(1), v128.and(shadow, isDarker)))
    }
    const squared = f32x4.sub(f32x4.add(f32x4.mul(light, light), colour), f32x4.splat(expected))
    const isKnown = f32x4.ge(v128.load(known + offset), f32x4.splat(0.5))
    const away = f32x4.sqrt(f32x4.pmax(zero, squared))
    v128.store(to + offset, v128.bitselect(away, f32x4.splat(<f32>NaN), isKnown))
  }
}

/** How much darker pixels look like a shadow, 0 … 1, by their share of the background's light and squared change of colour. */
function shadowiness(share: v128, colour: v128): v128 {
  const lightness = f32x4.sub(share, f32x4.splat(DEEPEST))
  const isLightEnough = clamped(f32x4.mul(lightness, f32x4.splat(1 / (SURE - DEEPEST))))
  const sameness = f32x4.sub(f32x4.splat(MOST_COLOUR), f32x4.sqrt(colour))
  const keepsColour = clamped(f32x4.mul(sameness, f32x4.splat(1 / (MOST_COLOUR - LEAST_COLOUR))))
  return f32x4.mul(isLightEnough, keepsColour)
}

/** Less than so many deviations are no difference. */
const LEAST_DIFFERENCE: f32 = 4
/** A rim: what differs by less than this share of the largest difference nearby, in a strip this narrow, in pixels. */
const RIM: f32 = 0.35
const RIM_HALF = 2

/**
 * Share of each pixel that something in front of the background covers, from its difference over the largest one nearby,
 * which is taken to be that of the body alone; 0 where nothing differs, NaN where the background is not known. A narrow
 * faint rim around something that differs more is what compressed colours bleed over its edge.
 *
 * @param near pixels around one in which the largest difference counts as that of the body alone; `far` for a faint rim
 * @param least difference of the body's own that is reckoned with at least
 * @param room for four lists as long as the values', and what `extreme` needs for these half widths
 */
export function cover(
  values: usize,
  width: i32,
  height: i32,
  near: i32,
  far: i32,
  least: f32,
  to: usize,
  room: usize,
): void {
  const count = width * height
  const list = (<usize>(count + 4)) << 2
  const largest = room
  const farther = largest + list
  const faint = farther + list
  const wide = faint + list
  const rest = wide + list
  extreme(values, width, height, near, 1, largest, rest)
  extreme(values, width, height, far, 1, farther, rest)
  let faintCount = 0
  for (let k = 0; k < count; k++) {
    const value = at(values, k)
    const isFaint = value > LEAST_DIFFERENCE && value < RIM * at(farther, k)
    put(faint, k, isFaint ? 1 : 0)
    if (isFaint) faintCount++
  }
  // Faint parts of a patterned body are wider than a rim, and outlast an opening.
  if (faintCount > 0) {
    extreme(faint, width, height, RIM_HALF, -1, wide, rest)
    extreme(wide, width, height, RIM_HALF, 1, wide, rest)
  }
  for (let k = 0; k < count; k++) {
    const value = at(values, k)
    if (isUnknown(value)) put(to, k, value)
    else if (at(largest, k) < LEAST_DIFFERENCE) put(to, k, 0)
    else {
      const isRim = at(faint, k) > 0 && at(wide, k) === 0
      put(to, k, value / max(isRim ? at(farther, k) : at(largest, k), least))
    }
  }
}
