import type { Investigation } from '@apokinema/core/investigation'
import { frameCount } from '@apokinema/core/time'
import type { Selection } from './workbenchStore.ts'

/** The part of the workbench's state that is in the page's address, so that a link opens the same view. */
export interface Address {
  /** Null: the first frame in use. */
  frame: number | null
  /** Id of the active body; null if none was chosen. */
  body: string | null
  /** Id of the selected stretch. */
  stretch: string | null
}

/** Returns the state that an address describes; parts that do not exist in this investigation are null. */
export function readAddress(search: string, { bodies, stretches, footage }: Investigation): Address {
  const given = new URLSearchParams(search)
  const frame = /^\d{1,7}$/.test(given.get('frame') ?? '') ? Number(given.get('frame')) : null
  const [body, stretch] = [given.get('body'), given.get('stretch')]
  const count = footage ? frameCount(footage.ticks) : 0
  return {
    frame: frame !== null && frame < count ? frame : null,
    body: body !== null && Object.hasOwn(bodies, body) ? body : null,
    stretch: stretch !== null && Object.hasOwn(stretches, stretch) ? stretch : null,
  }
}

/** Returns the query of the address that describes a state; empty for the initial one. */
export function addressOf(
  { frame, body, selection }: { frame: number; body: string | null; selection: Selection | null },
  { span }: Pick<Investigation, 'span'>,
): string {
  const said = new URLSearchParams()
  if (frame !== span.first) said.set('frame', String(frame))
  if (body !== null) said.set('body', body)
  if (selection?.kind === 'stretch') said.set('stretch', selection.id)
  const text = said.toString()
  return text && `?${text}`
}

/** Returns true if another body or stretch is active than before: then Back leads to the earlier one. */
export function isStep(before: string, now: string): boolean {
  const [from, to] = [new URLSearchParams(before), new URLSearchParams(now)]
  return (['body', 'stretch'] as const).some(
    (key) => from.has(key) && to.has(key) && from.get(key) !== to.get(key),
  )
}
