import type { OpenedInvestigation } from '@apokinema/core/api'
import { client } from '../api/client.ts'

const ahead = new Map<string, Promise<OpenedInvestigation>>()

/** Asks for an investigation that is about to be opened, so that its answer is there with the workbench. */
export function openAhead(id: string): void {
  const opening = client.open(id)
  opening.catch(() => {})
  ahead.set(id, opening)
}

/** Opens an investigation, with the answer that was asked for ahead where there is one; that is used once. */
export function openInvestigation(id: string): Promise<OpenedInvestigation> {
  const opening = ahead.get(id)
  ahead.delete(id)
  return opening ?? client.open(id)
}
