import { ERRORS } from '@tus/server'
import { describe, expect, it, vi } from 'vitest'
import { UploadLocks } from './uploadLocks.ts'

const never = () => new AbortController().signal
/** Lets everything run that can run without a timer. */
const settled = () => new Promise((resolve) => setImmediate(() => setImmediate(resolve)))

/** Asks for the lock of an upload, and notes when it is held. */
function asked(locks: UploadLocks, { id = 'a', signal = never() } = {}) {
  const request = {
    isHeld: false,
    requestRelease: vi.fn(),
    lock: locks.newLock(id),
    taken: Promise.resolve(),
  }
  request.taken = request.lock.lock(signal, request.requestRelease).then(() => {
    request.isHeld = true
  })
  return request
}

describe('locks of uploads', () => {
  it('are held by one request at a time, in the order in which they were asked for', async () => {
    const locks = new UploadLocks()
    const [first, second, third, other] = [
      asked(locks),
      asked(locks),
      asked(locks),
      asked(locks, { id: 'b' }),
    ]
    const held = () => [first, second, third, other].map(({ isHeld }) => isHeld)
    await settled()
    expect(held()).toEqual([true, false, false, true])
    await first.lock.unlock()
    await settled()
    expect(held()).toEqual([true, true, false, true])
    await second.lock.unlock()
    await third.taken
    await third.lock.unlock()
    const later = asked(locks)
    await later.taken
  })

  it('ask the holder once for each request that waits, and a new holder while more wait', async () => {
    const locks = new UploadLocks()
    const [first, second, third] = [asked(locks), asked(locks), asked(locks)]
    for (let round = 0; round < 50; round++) await settled()
    expect(first.requestRelease).toHaveBeenCalledTimes(2)
    expect(second.requestRelease).not.toHaveBeenCalled()
    await first.lock.unlock()
    await second.taken
    expect(second.requestRelease).toHaveBeenCalledTimes(1)
    await second.lock.unlock()
    await third.taken
    expect(third.requestRelease).not.toHaveBeenCalled()
  })

  it('are not waited for by a request that was aborted, or for too long', async () => {
    const locks = new UploadLocks(20)
    const first = asked(locks)
    await first.taken
    const abort = new AbortController()
    const aborted = asked(locks, { signal: abort.signal })
    const late = asked(locks)
    abort.abort()
    await expect(aborted.taken).rejects.toBe(ERRORS.ERR_LOCK_TIMEOUT)
    await expect(late.taken).rejects.toBe(ERRORS.ERR_LOCK_TIMEOUT)
    await first.lock.unlock()
    await asked(locks).taken
    await expect(asked(locks, { id: 'b', signal: abort.signal }).taken).rejects.toBe(ERRORS.ERR_LOCK_TIMEOUT)
  })
})
