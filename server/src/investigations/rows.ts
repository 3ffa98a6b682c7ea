import { type Investigation, type Summary, summarise } from '@apokinema/core/investigation'
import { Problem } from '../problem.ts'

/** A row of the table of investigations. */
export interface InvestigationRow {
  id: string
  owner_id: string
  version: number
  title: string
  /** Null where the document can't be read. */
  summary: Summary | null
  /** Of the footage that the document names. */
  footage_id: string | null
  updated_at: Date
  deleted_at: Date | null
}

/** Returns what the row of a document keeps for the list: derived before anything is stored. */
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
 * @throws Problem for what is no such place
 */
export function pageStart(after: string | undefined): { updatedAt: string; id: string } | null {
  if (after === undefined) return null
  const [, updatedAt, id] = /^(\d{4}-\d\d-\d\dT[\d:.]{8,15}Z)_([0-9a-f-]{36})$/.exec(after) ?? []
  if (!updatedAt || Number.isNaN(Date.parse(updatedAt)))
    throw new Problem(400, 'no-such-page', 'There is no such page of the list.')
  return { updatedAt, id }
}
