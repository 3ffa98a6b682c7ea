import { frameCount, leftOutFrames } from '../time/index.ts'
import { axesOf, type Investigation } from './document/investigation.ts'
import { framesOf } from './rests.ts'

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

/** Returns true if a frame is in use, told without a list of them all: what a document claims to be a million frames costs nothing. */
function framesInUseOf({ span, timing, footage }: Investigation): (frame: number) => boolean {
  const { first, last, every } = span
  const leftOut = leftOutFrames(timing.repeats, footage ? frameCount(footage.ticks) : 0)
  return (frame) => frame >= first && frame <= last && (frame - first) % every === 0 && !leftOut.has(frame)
}

/** How many of some marks are in use, and by what of the document: only of marks that are frozen. */
const countedBy = new WeakMap<object, { by: unknown[]; count: number }>()

/** Returns how many marks of all bodies are in use. What an edit leaves as it is is not counted again. */
function marksInUse(investigation: Investigation): number {
  const { bodies, span, timing, footage } = investigation
  const by = [span, timing, footage]
  const isInUse = framesInUseOf(investigation)
  return Object.values(bodies).reduce((sum, body) => {
    const known = countedBy.get(body.marks)
    if (known?.by.every((one, i) => one === by[i])) return sum + known.count
    const count = framesOf(body).filter(isInUse).length
    if (Object.isFrozen(body.marks) && by.every((one) => Object.isFrozen(one)))
      countedBy.set(body.marks, { by, count })
    return sum + count
  }, 0)
}

/** Summarises an investigation. */
export function summarise(investigation: Investigation): Summary {
  const { footage, span, bodies, fits, references, knownMotions, plane } = investigation
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
    marks: marksInUse(investigation),
    fits: Object.keys(fits).length,
  }
}
