import { backgroundShift, edgeWidth, type Luma, lightOf, lumaOfColours } from '@apokinema/core/survey'
import { type RefObject, useEffect, useState } from 'react'

/** Checks of the live picture; null if a value can't be determined. */
export interface Checks {
  light: 'good' | 'dark' | 'bright'
  sharp: boolean | null
  steady: boolean | null
}

const EVERY = 500
/** The whole picture, reduced; and its centre at full resolution, for the sharpness of edges. */
const SMALL = 320
const MIDDLE = { width: 480, height: 360 }

function lumaOf(
  video: HTMLVideoElement,
  canvas: OffscreenCanvas,
  from: { x: number; y: number; width: number; height: number },
): Luma {
  const { width, height } = canvas
  const context = canvas.getContext('2d', { willReadFrequently: true })!
  context.drawImage(video, from.x, from.y, from.width, from.height, 0, 0, width, height)
  return lumaOfColours(context.getImageData(0, 0, width, height).data, width, height)
}

/** Checks the live picture twice a second: light, sharpness, steadiness. */
export function useChecks(video: RefObject<HTMLVideoElement | null>, active: boolean): Checks | null {
  const [checks, setChecks] = useState<Checks | null>(null)
  useEffect(() => {
    if (!active) return
    let before: Luma | null = null
    const timer = setInterval(() => {
      const element = video.current
      if (!element || element.videoWidth === 0) return
      const { videoWidth: wide, videoHeight: high } = element
      const whole = { x: 0, y: 0, width: wide, height: high }
      const small = lumaOf(element, new OffscreenCanvas(SMALL, Math.round((SMALL * high) / wide)), whole)
      const part = { width: Math.min(wide, MIDDLE.width), height: Math.min(high, MIDDLE.height) }
      const middle = lumaOf(element, new OffscreenCanvas(part.width, part.height), {
        x: (wide - part.width) / 2,
        y: (high - part.height) / 2,
        ...part,
      })
      const { mean, dark, bright } = lightOf(small)
      const edge = edgeWidth(middle)
      const shift = before && before.height === small.height ? backgroundShift(before, small) : null
      before = small
      setChecks({
        light: mean < 50 || dark > 0.5 ? 'dark' : bright > 0.2 ? 'bright' : 'good',
        sharp: Number.isFinite(edge) ? edge < 5 : null,
        steady: shift ? Math.hypot(shift.x, shift.y) * (wide / SMALL) < 1 : null,
      })
    }, EVERY)
    return () => {
      clearInterval(timer)
      setChecks(null)
    }
  }, [video, active])
  return checks
}
