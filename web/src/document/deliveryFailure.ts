import { AwayError, RefusedError } from '../api/client.ts'

/** Codes by which the server says that this very edit is refused. */
const REFUSING = ['edit-refused', 'too-large', 'not-json']
/** Codes by which it says that it has another state: that is a matter for the person, and nothing is dropped. */
const CONFLICTING = ['edit-conflict', 'unknown-version', 'newer-document']

/**
 * Returns why an edit was not saved. refused: it will never be. conflict: the server has another state. gone: the investigation
 * was deleted. fault: something broke, here or in the server. unreachable: nothing answers. held:
 * something else answers, or the server is not ready.
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
