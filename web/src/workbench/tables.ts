import type { Investigation } from '@apokinema/core/investigation'
import { type MotionTable, motionTable, shownTable, type TableSettings } from '@apokinema/core/motion'

/** Kept by the document, which every edit replaces. */
const known = new WeakMap<Investigation, Map<string, MotionTable>>()

function kept(investigation: Investigation, key: string, make: () => MotionTable): MotionTable {
  const tables = known.get(investigation) ?? new Map<string, MotionTable>()
  known.set(investigation, tables)
  const table = tables.get(key) ?? make()
  tables.set(key, table)
  return table
}

const keyOf = (body: string, { axes = null, derivation = null, other = null }: TableSettings) =>
  `${body} ${axes} ${derivation?.method} ${derivation?.reach} ${other}`

/**
 * The motion table of a body in the scene's own unit of length, measured in some axes (null: the main ones) and
 * derived in some way (null: the investigation's).
 */
export function tableOf(investigation: Investigation, body: string, own: TableSettings = {}): MotionTable {
  return kept(investigation, keyOf(body, own), () => motionTable(investigation, body, own))
}

/** The same in the unit in which lengths are shown. */
export function shownTableOf(
  investigation: Investigation,
  body: string,
  own: TableSettings = {},
): MotionTable {
  return kept(investigation, `${keyOf(body, own)} shown`, () =>
    shownTable(tableOf(investigation, body, own), investigation.lengthUnit),
  )
}
