import { freeze } from 'immer'
import {
  checkValue,
  isPlainObject,
  NewerDocumentError,
  newReport,
  withKnownBlocks,
} from '../../investigation/index.ts'
import { checkSeries } from './schema.ts'
import { SERIES_VERSION, type Series } from './series.ts'

/** Upgrades from one version to the next, keyed by the version that they read. Each is a pure function. */
const UPGRADES: Record<number, (document: Record<string, unknown>) => Record<string, unknown>> = {
  /** Version 1 had no motions that are drawn over each other. */
  1: (document) => ({ ...document, version: 2, motions: {} }),
  /** Version 2 had no report. */
  2: (document) => ({ ...document, version: 3, report: newReport() }),
}

/**
 * Reads a stored series, upgraded and frozen.
 *
 * @throws NewerDocumentError for a newer version, and a RangeError for anything else that does not fit
 */
export function readSeries(stored: unknown): Series {
  if (!isPlainObject(stored)) throw new RangeError('A series must be an object.')
  const { version } = stored
  if (typeof version === 'number' && version > SERIES_VERSION)
    throw new NewerDocumentError('series', version, SERIES_VERSION)
  checkValue(stored, 'the series')
  let document: Record<string, unknown> = { ...stored }
  for (let at = Number(version); at < SERIES_VERSION && Object.hasOwn(UPGRADES, at); at++)
    document = UPGRADES[at](document)
  return freeze(checkSeries(withKnownBlocks(document)), true)
}
