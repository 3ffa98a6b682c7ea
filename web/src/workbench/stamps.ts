const stamps = new Map<string, HTMLCanvasElement>()

/**
 * Returns a small sign as a sprite: drawing it hundreds of times is far faster than drawing its outline as often.
 *
 * @param key identifies the sign
 * @param half half its width, in CSS pixels
 * @param draw draws it around the origin, once
 */
export function stampOf(
  key: string,
  half: number,
  draw: (context: CanvasRenderingContext2D) => void,
): HTMLCanvasElement {
  const fine = 2 * Math.max(1, Math.ceil(window.devicePixelRatio || 1))
  const whole = `${key} ${fine}`
  const ready = stamps.get(whole)
  if (ready) return ready
  const canvas = document.createElement('canvas')
  canvas.width = 2 * half * fine
  canvas.height = 2 * half * fine
  const context = canvas.getContext('2d')!
  context.scale(fine, fine)
  context.translate(half, half)
  draw(context)
  stamps.set(whole, canvas)
  return canvas
}
