import { NewerDocumentError } from '@apokinema/core/investigation'
import { Problem } from './problem.ts'

/**
 * Returns what is answered where a document could not be read: a Problem for one of a newer version or one that does not fit, and any other
 * error as it is.
 *
 * @param unfit makes the Problem of one that does not fit
 */
export function documentProblem(error: unknown, unfit: (why: string) => Problem): unknown {
  if (error instanceof NewerDocumentError) return new Problem(409, 'newer-document', error.message)
  return error instanceof RangeError ? unfit(error.message) : error
}
