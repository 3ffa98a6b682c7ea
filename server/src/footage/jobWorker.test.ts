import { setImmediate as turn } from 'node:timers/promises'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { JobWorker } from './jobWorker.ts'

const waiting: string[] = []
const ran: string[] = []
const completed: string[] = []
const errors: string[] = []
let isAway = false
let worker: JobWorker<string>

/** A queue whose every call fails while the database is away. */
const boss = {
  fetch: async (_: string) => {
    if (isAway) throw new Error('connect ECONNREFUSED')
    return waiting.splice(0, 1).map((data) => ({ id: data, data }))
  },
  complete: async (_: string, id: string) => {
    if (isAway) throw new Error('connect ECONNREFUSED')
    completed.push(id)
  },
}

beforeEach(() => {
  for (const list of [waiting, ran, completed, errors]) list.length = 0
  isAway = false
})
afterEach(() => worker.stop())

function work(run: (data: string) => Promise<void> = async (data) => void ran.push(data)): void {
  worker = new JobWorker(boss as never, 'conversions', run, (error) => errors.push((error as Error).message))
}

it('jobs are run in their order, and each is completed', async () => {
  waiting.push('a', 'b', 'c')
  work()
  await expect.poll(() => completed).toEqual(['a', 'b', 'c'])
  expect(ran).toEqual(['a', 'b', 'c'])
})

it('a job that fails is reported and completed, and the next one is run', async () => {
  waiting.push('a', 'b')
  work(async (data) => {
    if (data === 'a') throw new Error('no room')
    ran.push(data)
  })
  await expect.poll(() => completed).toEqual(['a', 'b'])
  expect(errors).toEqual(['no room'])
  expect(ran).toEqual(['b'])
})

it('a database that goes away during a job is reported, and work goes on when it is back', async () => {
  waiting.push('a')
  work(async (data) => {
    isAway = data === 'a'
    ran.push(data)
    if (isAway) throw new Error('connection terminated')
  })
  await expect.poll(() => errors).toContain('connect ECONNREFUSED')
  isAway = false
  waiting.push('b')
  await expect.poll(() => completed).toEqual(['b'])
})

it('a notification starts a job without waiting for the next poll', async () => {
  const fetch = vi.spyOn(boss, 'fetch')
  work()
  await expect.poll(() => fetch.mock.calls.length).toBe(1)
  await turn()
  waiting.push('a')
  worker.notify()
  await turn()
  await turn()
  expect(ran).toEqual(['a'])
  fetch.mockRestore()
})

it('stopping waits for the present job, and starts no other', async () => {
  waiting.push('a', 'b')
  let finish = () => {}
  work(async (data) => {
    await new Promise<void>((resolve) => {
      finish = resolve
    })
    ran.push(data)
  })
  await turn()
  const stopped = worker.stop()
  finish()
  await stopped
  expect(completed).toEqual(['a'])
  expect(waiting).toEqual(['b'])
})
