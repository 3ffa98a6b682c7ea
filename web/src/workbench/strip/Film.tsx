import { pictureSize } from '@apokinema/core/investigation'
import { nearestFrame } from '@apokinema/core/time'
import * as Comlink from 'comlink'
import { memo, useEffect, useRef } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { drawTurned, openInWorker } from '../../footage/clip.ts'
import { COLOUR } from '../../theme/palettes.ts'
import { useClip, useClock } from '../ClipContext.tsx'
import { pauseWhileInteracting } from '../pauseWhileInteracting.ts'
import { useWorkbench } from '../workbenchStore.ts'
import type { TimeScale } from './timeScale.ts'

export const FILM_HEIGHT = 40

/** Small pictures along the strip, from a separate decoder so that they never delay steps. */
export const Film = memo(function Film({ scale, top }: { scale: TimeScale; top: number }) {
  const { from } = useClip()
  const clock = useClock()
  const investigation = useInvestigation()
  const { orientation } = investigation
  const size = pictureSize(investigation)
  const canvas = useRef<HTMLCanvasElement>(null)
  const aspect = size.width / size.height
  // The decoder returns pictures in the file's orientation: turned by 90°, their width is the film's height.
  const high = orientation.quarterTurns % 2 === 0 ? 1 : aspect
  const seconds = clock?.seconds
  // The picture on the stage has priority.
  const isShown = useWorkbench((state) => state.shown !== null)
  const left = scale.x(-(clock?.zero ?? 0))
  const right = seconds ? scale.x(seconds.at(-1)! - clock!.zero) : 0

  useEffect(() => {
    const target = canvas.current
    if (!target || !from || !seconds || !isShown || right - left < 20) return
    let dropped = false
    const density = window.devicePixelRatio || 1
    const tall = Math.round(FILM_HEIGHT * density)
    const each = FILM_HEIGHT * aspect
    const count = Math.max(1, Math.ceil((right - left) / each))
    target.width = Math.round((right - left) * density)
    target.height = tall
    const context = target.getContext('2d')!
    const duration = seconds.at(-1)!
    const indices = Array.from({ length: count }, (_, i) =>
      nearestFrame(seconds, Math.min(1, (i + 0.5) / ((right - left) / each)) * duration),
    )
    // Resizing must not start a decoder for every pixel.
    const timer = setTimeout(async () => {
      const clip = await openInWorker(from, 'film').catch(() => null)
      if (!clip) return
      if (!dropped) {
        let at = 0
        const draw = (_index: number, picture: ImageBitmap) => {
          // Whole device pixels, so that all gaps between pictures are equal.
          const [begin, end] = [at, at + 1].map((n) => Math.round(n * each * density))
          if (!dropped) {
            context.save()
            context.beginPath()
            context.rect(begin, 0, end - begin - Math.round(density), tall)
            context.clip()
            context.translate(begin, 0)
            drawTurned(context, picture, picture, orientation)
            context.restore()
          }
          picture.close()
          at++
        }
        const unwatch = pauseWhileInteracting((milliseconds) => void clip.decoder.hold(milliseconds))
        await clip.decoder.film(indices, Math.round(tall * high), Comlink.proxy(draw)).catch(() => {})
        unwatch()
      }
      clip.close()
    }, 150)
    return () => {
      dropped = true
      clearTimeout(timer)
    }
  }, [from, seconds, isShown, left, right, aspect, high, orientation])

  return (
    <canvas
      ref={canvas}
      data-film
      style={{
        position: 'absolute',
        top,
        left,
        width: Math.max(0, right - left),
        height: FILM_HEIGHT,
        background: COLOUR.chosen,
      }}
    />
  )
})
