import { type Investigation, type Summary, summarise } from '@apokinema/core/investigation'
import { Problem } from '../problem.ts'

/** A row of the table of investigations. */
export interface InvestigationRow {
  id: string
  owner_id: string
  version: number
  title: string
  /** Null if the document can't be read. */
  summary: Summary | null
  /** Id of the document's footage. */
  footage_id: string | null
  updated_at: Date
  deleted_at: Date | null
}

/** Returns the values that a document's row keeps for the list. */
export function rowOf(document: Investigation) {
  return {
    title: document.title,
    summary: JSON.stringify(summarise(document)),
    footage_id: document.footage?.id ?? null,
  }
}

/**
 * Returns where a page of the list begins; null: at the newest.
 *
 * @throws Problem for an invalid position
 */
export function pageStart(after: string | undefined): { updatedAt: string; id: string } | null {
  if (after === undefined) return null
  const [, updatedAt, id] = /^(\d{4}-\d\d-\d\dT[\d:.]{8,15}Z)_([0-9a-f-]{36})$/.exec(after) ?? []
  if (!updatedAt || Number.isNaN(Date.parse(updatedAt)))
    throw new Problem(400, 'no-such-page', 'There is no such page of the list.')
  return { updatedAt, id }
}
