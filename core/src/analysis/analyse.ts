import type { Investigation } from '../investigation/index.ts'
import { Analysis, Computed } from './analysis.ts'

/** Of the last documents: the parts that scenes and tables depend on, and what was computed from them. */
const recent: { parts: unknown[]; computed: Computed }[] = []
/** The document itself, one that is being dragged at, and the one before. */
const MOST_RECENT = 3

const analyses = new WeakMap<Investigation, Analysis>()

/** Returns the parts of a document that scenes and tables depend on. */
function partsOf(document: Investigation): unknown[] {
  const {
    title,
    drawn,
    locks,
    hidden,
    outlierLimit,
    fits,
    graphs,
    stretches,
    calculations,
    tolerance,
    report,
    refusals,
    ...parts
  } = document
  // A known motion gives the scale by a stretch of a graph.
  const isScaledByMotion = Object.keys(document.knownMotions).length > 0
  return [...Object.values(parts), ...(isScaledByMotion ? [graphs, stretches] : [])]
}

/**
 * Returns everything that follows from a document. Documents are immutable: the same one is analysed once, and an edit of a
 * graph, a fit or the report leaves scenes and tables as they are.
 */
export function analyse(document: Investigation): Analysis {
  const known = analyses.get(document)
  if (known) return known
  const parts = partsOf(document)
  const at = recent.findIndex(
    (one) => one.parts.length === parts.length && parts.every((part, i) => part === one.parts[i]),
  )
  const [found] = at < 0 ? [{ parts, computed: new Computed() }] : recent.splice(at, 1)
  recent.unshift(found)
  recent.length = Math.min(recent.length, MOST_RECENT)
  const made = new Analysis(document, found.computed)
  analyses.set(document, made)
  return made
}
