import type { Derivation, Investigation } from '@apokinema/core/investigation'
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

/** What a table is of, where it isn't as the investigation's are. */
interface Own {
  axes?: string | null
  derivation?: Derivation | null
}

const keyOf = (body: string, { axes = null, derivation = null }: Own) =>
  `${body} ${axes} ${derivation?.method} ${derivation?.reach}`

/**
 * The motion table of a body in the scene's own unit of length, measured in some axes (null: the main ones) and
 * derived in some way (null: the investigation's).
 */
export function tableOf(investigation: Investigation, body: string, own: Own = {}): MotionTable {
  return kept(investigation, keyOf(body, own), () =>
    motionTable(investigation, body, own.axes, own.derivation),
  )
}

/** The same in the unit in which lengths are shown. */
export function shownTableOf(investigation: Investigation, body: string, own: Own = {}): MotionTable {
  return kept(investigation, `${keyOf(body, own)} shown`, () =>
    shownTable(tableOf(investigation, body, own), investigation.lengthUnit),
  )
}
