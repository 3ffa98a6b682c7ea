import { ERRORS, type Lock, type Locker, type RequestRelease } from '@tus/server'

/** Milliseconds that a request waits for a lock. */
const LONGEST_WAIT = 30_000

/** A request that waits for a lock. */
interface Waiting {
  requestRelease: RequestRelease
  grant: () => void
}

/** The request that holds a lock, and those that wait for it, the first in line first. */
interface Held {
  requestRelease: RequestRelease
  waiting: Waiting[]
}

/**
 * Locks of uploads: one request at a time works on each. The holder is asked once for each request that waits to release
 * its lock; the waiting ones take no processor time. (`MemoryLocker` of the package asks again in every round of the event
 * loop, which keeps the server busy for as long as a broken connection is not noticed.)
 */
export class UploadLocks implements Locker {
  private readonly held = new Map<string, Held>()

  constructor(private readonly longestWait = LONGEST_WAIT) {}

  newLock(id: string): Lock {
    return {
      lock: (signal, requestRelease) => this.lock(id, signal, requestRelease),
      unlock: async () => this.unlock(id),
    }
  }

  /** Resolves when the lock is held. Rejects with `ERR_LOCK_TIMEOUT` if the request is aborted, or has waited for too long. */
  private async lock(id: string, signal: AbortSignal, requestRelease: RequestRelease): Promise<void> {
    if (signal.aborted) throw ERRORS.ERR_LOCK_TIMEOUT
    const held = this.held.get(id)
    if (!held) {
      this.held.set(id, { requestRelease, waiting: [] })
      return
    }
    await new Promise<void>((resolve, reject) => {
      const stopWaiting = () => {
        clearTimeout(timeout)
        signal.removeEventListener('abort', giveUp)
        held.waiting = held.waiting.filter((other) => other !== waiting)
      }
      const giveUp = () => {
        stopWaiting()
        reject(ERRORS.ERR_LOCK_TIMEOUT)
      }
      const grant = () => {
        stopWaiting()
        resolve()
      }
      const waiting = { requestRelease, grant }
      const timeout = setTimeout(giveUp, this.longestWait)
      signal.addEventListener('abort', giveUp)
      held.waiting.push(waiting)
      void held.requestRelease()
    })
  }

  /** Passes the lock on to the first that waits; asks it to release at once if more wait behind it. */
  private unlock(id: string): void {
    const held = this.held.get(id)
    if (!held) throw new Error('The lock is not held.')
    const [next] = held.waiting
    if (!next) {
      this.held.delete(id)
      return
    }
    held.requestRelease = next.requestRelease
    next.grant()
    if (held.waiting.length > 0) void held.requestRelease()
  }
}
