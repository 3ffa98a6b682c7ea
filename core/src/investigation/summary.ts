import { frameCount } from '../time/index.ts'
import { axesOf, type Investigation } from './document/investigation.ts'
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
  const { footage, span, bodies, fits, references, knownMotions, plane } = investigation
  const used = framesInUse(investigation)
  const last = footage ? frameCount(footage.ticks) - 1 : 0
  return {
    footage: footage !== null,
    span: footage !== null && (span.first > 0 || span.last < last || span.every > 1),
    scale:
      Object.values(references).some(({ length, use }) => length !== null && use === 'scale') ||
      Object.keys(knownMotions).length > 0 ||
      Boolean(plane?.width && plane.height),
    axes: axesOf(investigation).placed,
    bodies: Object.keys(bodies).length,
    marks: Object.values(bodies).reduce(
      (sum, body) => sum + Object.keys(body.marks).filter((frame) => used.has(Number(frame))).length,
      0,
    ),
    fits: Object.keys(fits).length,
  }
}
