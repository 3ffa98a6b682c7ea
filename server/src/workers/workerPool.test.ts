import { full } from '@apokinema/core/testing/built'
import { pino } from 'pino'
import { afterAll, describe, expect, it } from 'vitest'
import { Problem } from '../problem.ts'
import { WorkerPool } from './workerPool.ts'

const workers = new WorkerPool(pino({ enabled: false }))
afterAll(() => workers.close())

/** JSON text that is long enough for a thread. */
const long = (n: number) => JSON.stringify({ n, list: Array.from({ length: 100_000 }, (_, i) => i) })
const forever = new AbortController().signal

describe('worker threads', () => {
  it('parse long text, and say where it is none', async () => {
    expect(await workers.parse(long(7))).toMatchObject({ n: 7, list: { length: 100_000 } })
    await expect(workers.parse(`${long(7)}}`)).rejects.toThrow(SyntaxError)
    await expect(workers.parse('[1')).rejects.toThrow(SyntaxError)
  })

  it('refuse what is nested without end, and live on', async () => {
    await expect(workers.parse('['.repeat(200_000) + ']'.repeat(200_000))).rejects.toThrow(SyntaxError)
    expect(await workers.parse(long(8))).toMatchObject({ n: 8 })
  })

  it('end with whoever asked, and do what others ask', async () => {
    const gone = new AbortController()
    const packing = workers.pack(JSON.stringify(full()), false, gone.signal)
    gone.abort()
    await expect(packing).rejects.toThrow(/abort/i)
    const { entries } = await workers.pack(JSON.stringify(full()), false, forever)
    expect(entries.map(({ name }) => name)).toContain('README.txt')
  })

  it('do some things at a time, let some wait, and say so where there are more', async () => {
    const asked = await Promise.allSettled(Array.from({ length: 40 }, (_, n) => workers.parse(long(n))))
    const refused = asked.flatMap((one) => (one.status === 'rejected' ? [one.reason] : []))
    expect(refused.length).toBeGreaterThan(0)
    for (const error of refused) {
      expect(error).toBeInstanceOf(Problem)
      expect(error).toMatchObject({ status: 503, code: 'busy' })
    }
    // Those that were let in are all done, each with its own.
    asked.forEach((one, n) => {
      if (one.status === 'fulfilled') expect(one.value).toMatchObject({ n })
    })
    expect(asked.length - refused.length).toBeGreaterThanOrEqual(20)
  })
})
