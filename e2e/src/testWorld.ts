import type { Browser } from 'playwright-core'
import { afterAll, beforeAll } from 'vitest'
import { launchBrowser } from './browser.ts'
import { World } from './world.ts'

/** A server and a browser for the tests of one file, started before them and ended after them. */
export function testWorld(env: NodeJS.ProcessEnv = {}): { world: World; browser: Browser } {
  const given = {} as { world: World; browser: Browser }
  beforeAll(async () => {
    given.world = await World.start(env)
    given.browser = await launchBrowser()
  })
  afterAll(async () => {
    await given.browser?.close()
    await given.world?.stop()
  })
  return given
}
