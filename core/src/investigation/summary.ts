import { scaleOf } from '../geometry/index.ts'
import { frameCount } from '../time/index.ts'
import { type Investigation, primaryReference } from './document.ts'
import { framesInUse } from './framesInUse.ts'

/** What of the work is set up, for a card in a list. */
export interface Summary {
  footage: boolean
  span: boolean
  scale: boolean
  axes: boolean
  bodies: number
  marks: number
  fits: number
}

/** Summarises an investigation. */
export function summarise(investigation: Investigation): Summary {
  const { footage, span, axes, bodies, fits } = investigation
  const used = framesInUse(investigation)
  const last = footage ? frameCount(footage.ticks) - 1 : 0
  return {
    footage: footage !== null,
    span: footage !== null && (span.first > 0 || span.last < last || span.every > 1),
    scale: scaleOf(primaryReference(investigation)) !== null,
    axes: axes.placed,
    bodies: Object.keys(bodies).length,
    marks: Object.values(bodies).reduce(
      (sum, body) => sum + Object.keys(body.marks).filter((frame) => used.has(Number(frame))).length,
      0,
    ),
    fits: Object.keys(fits).length,
  }
}
