import type { Investigation } from '@apokinema/core/investigation'
import { type MotionTable, motionTable, shownTable } from '@apokinema/core/motion'

/** Kept by the document, which every edit replaces. */
const known = new WeakMap<Investigation, Map<string, MotionTable>>()

function kept(investigation: Investigation, key: string, make: () => MotionTable): MotionTable {
  const tables = known.get(investigation) ?? new Map<string, MotionTable>()
  known.set(investigation, tables)
  const table = tables.get(key) ?? make()
  tables.set(key, table)
  return table
}

/** The motion table of a body in the scene's own unit of length, measured in some axes (null: the main ones). */
export function tableOf(investigation: Investigation, body: string, axes: string | null = null): MotionTable {
  return kept(investigation, `${body} ${axes}`, () => motionTable(investigation, body, axes))
}

/** The same in the unit in which lengths are shown. */
export function shownTableOf(
  investigation: Investigation,
  body: string,
  axes: string | null = null,
): MotionTable {
  return kept(investigation, `${body} ${axes} shown`, () =>
    shownTable(tableOf(investigation, body, axes), investigation.lengthUnit),
  )
}
