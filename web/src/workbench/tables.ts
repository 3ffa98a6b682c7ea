import type { Investigation } from '@apokinema/core/investigation'
import { type MotionTable, type MotionTableSettings, motionTable, shownTable } from '@apokinema/core/motion'

/** Tables that follow from the same things of a document. */
type Tables = Map<string, MotionTable>

/** Of the last documents: what their tables follow from, and the tables. */
const known: { from: unknown[]; tables: Tables }[] = []
/** The document itself, one that is being dragged at, and the one before. */
const MOST_KNOWN = 3

/** Everything of a document that tables follow from. */
function sourcesOf(investigation: Investigation): unknown[] {
  const {
    title,
    drawn,
    locks,
    hidden,
    strayLimit,
    fits,
    graphs,
    stretches,
    calculations,
    tolerance,
    ...sources
  } = investigation
  // A known motion gives the scale by a stretch of a graph.
  const isScaled = Object.keys(investigation.knownMotions).length > 0
  return [...Object.values(sources), ...(isScaled ? [graphs, stretches] : [])]
}

/** The tables of a document so far: the same ones for as long as nothing changes that they follow from. */
export function tablesOf(investigation: Investigation): Tables {
  const from = sourcesOf(investigation)
  const at = known.findIndex(
    (one) => from.length === one.from.length && from.every((source, i) => source === one.from[i]),
  )
  const [found] = at < 0 ? [{ from, tables: new Map<string, MotionTable>() }] : known.splice(at, 1)
  known.unshift(found)
  known.length = Math.min(known.length, MOST_KNOWN)
  return found.tables
}

function kept(investigation: Investigation, key: string, make: () => MotionTable): MotionTable {
  const tables = tablesOf(investigation)
  const table = tables.get(key) ?? make()
  tables.set(key, table)
  return table
}

const keyOf = (body: string, { axes = null, derivation = null, other = null }: MotionTableSettings) =>
  `${body} ${axes} ${derivation?.method} ${derivation?.reach} ${derivation?.weighted} ${other}`

/**
 * The motion table of a body in the scene's own unit of length, measured in some axes (null: the main ones) and
 * derived in some way (null: the investigation's).
 */
export function tableOf(
  investigation: Investigation,
  body: string,
  own: MotionTableSettings = {},
): MotionTable {
  return kept(investigation, keyOf(body, own), () => motionTable(investigation, body, own))
}

/** The same in the unit in which lengths are shown. */
export function shownTableOf(
  investigation: Investigation,
  body: string,
  own: MotionTableSettings = {},
): MotionTable {
  return kept(investigation, `${keyOf(body, own)} shown`, () =>
    shownTable(tableOf(investigation, body, own), investigation.lengthUnit),
  )
}
