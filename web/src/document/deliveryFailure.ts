import { AwayError, RefusedError } from '../api/client.ts'

/** Codes with which the server refuses this very edit. */
const REFUSING = ['edit-refused', 'too-large', 'not-json']
/** Codes with which the server reports another state: the person decides, and nothing is dropped. */
const CONFLICTING = ['edit-conflict', 'unknown-version', 'newer-document']

/**
 * Returns why an edit was not saved. refused: it never will be. conflict: the server has another state. gone: the investigation
 * was deleted. fault: an error in the page or the server. unreachable: no answer. held: something else answers, or the server
 * is not ready.
 */
export function deliveryFailure(
  error: unknown,
): 'refused' | 'conflict' | 'gone' | 'fault' | 'unreachable' | 'held' {
  if (error instanceof RefusedError) {
    if (CONFLICTING.includes(error.code)) return 'conflict'
    if (error.code === 'not-found') return 'gone'
    return REFUSING.includes(error.code) ? 'refused' : 'held'
  }
  if (!(error instanceof AwayError)) return 'fault'
  return error.kind === 'stranger' ? 'held' : error.kind
}
