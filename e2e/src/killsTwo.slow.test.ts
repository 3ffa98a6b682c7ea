import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { killInRounds, ROUNDS_TIMEOUT } from './kills.ts'
import { ServerProcess } from './serverProcess.ts'

let first: ServerProcess
let second: ServerProcess
beforeAll(async () => {
  first = await ServerProcess.start()
  second = await first.beside()
})
afterAll(async () => {
  await second?.stopServer()
  await first?.stop()
})

it(
  'through a hundred kills of two servers on one database nothing is lost, and nothing done twice',
  () => killInRounds([first, second]),
  ROUNDS_TIMEOUT,
)

it('the folders of killed servers are removed when their leases have expired', async () => {
  const folders = () => readdirSync(join(first.footageFolder, 'incoming')).length
  const afterRestart = async () => {
    await second.restart()
    return folders()
  }
  await expect.poll(afterRestart, { timeout: 120_000, interval: 5000 }).toBe(2)
})
