import { afterAll, beforeAll, it } from 'vitest'
import { killInRounds, ROUNDS_TIMEOUT } from './kills.ts'
import { ServerProcess } from './serverProcess.ts'

let server: ServerProcess
beforeAll(async () => {
  server = await ServerProcess.start()
})
afterAll(() => server?.stop())

it(
  'through a hundred kills of one server nothing is lost, and nothing done twice',
  () => killInRounds([server]),
  ROUNDS_TIMEOUT,
)
