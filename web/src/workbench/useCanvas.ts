import { type DependencyList, type RefObject, useLayoutEffect, useRef } from 'react'
import { useLook } from '../theme/appearance.ts'
import type { Look } from '../theme/look.ts'

/**
 * Returns a canvas that is cleared and redrawn whenever its size, the look or a dependency of the drawing
 * changes. It is drawn during rendering, not after it, so that a step shows at once.
 *
 * @param size in CSS pixels; the drawing function receives the device pixels per CSS pixel, and the look
 */
export function useCanvas(
  size: { width: number; height: number },
  draw: (context: CanvasRenderingContext2D, density: number, look: Look) => void,
  depends: DependencyList,
): RefObject<HTMLCanvasElement | null> {
  const canvas = useRef<HTMLCanvasElement>(null)
  const look = useLook()
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the drawing depends on is handed over
  useLayoutEffect(() => {
    const target = canvas.current
    if (!target || size.width === 0) return
    const density = window.devicePixelRatio || 1
    const [across, down] = [size.width, size.height].map((length) => Math.round(length * density))
    if (target.width !== across) target.width = across
    if (target.height !== down) target.height = down
    const context = target.getContext('2d')!
    context.setTransform(1, 0, 0, 1, 0, 0)
    context.clearRect(0, 0, across, down)
    draw(context, density, look)
  }, [size.width, size.height, look, ...depends])
  return canvas
}
