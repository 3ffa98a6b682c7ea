import { freeze } from 'immer'
import { checkValue, isPlainObject, NewerDocumentError } from '../../investigation/index.ts'
import { checkSeries } from './schema.ts'
import { SERIES_VERSION, type Series } from './series.ts'

/**
 * Reads a stored series, frozen.
 *
 * @throws NewerDocumentError for a newer version, and a RangeError for anything else that does not fit
 */
export function readSeries(stored: unknown): Series {
  if (!isPlainObject(stored)) throw new RangeError('A series must be an object.')
  const { version } = stored
  if (typeof version === 'number' && version > SERIES_VERSION)
    throw new NewerDocumentError('series', version, SERIES_VERSION)
  checkValue(stored, 'the series')
  return freeze(checkSeries(stored), true)
}
