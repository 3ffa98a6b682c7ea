import type { AddressInfo } from 'node:net'
import { fill } from '@apokinema/demo'
import { demoIsLoaded, migrate, noteDemoLoaded, openDatabase, readConfig, serve } from '@apokinema/server'

/**
 * Loads the demo data into a database that never had them. It is done over the API of a server that
 * listens on a free loopback port for just this, so that TLS and HOST do not matter.
 */
export async function loadDemoOnce(env: NodeJS.ProcessEnv, say: (text: string) => void): Promise<void> {
  const config = readConfig(env)
  const database = openDatabase(config.databaseUrl)
  try {
    await migrate(database)
    if (await demoIsLoaded(database)) return
    say('Loading the demo data …')
    const running = await serve({ ...config, host: '127.0.0.1', port: 0, tls: null }, { quiet: true })
    try {
      await fill(`http://127.0.0.1:${(running.server.address() as AddressInfo).port}`)
      await noteDemoLoaded(database)
    } finally {
      await running.stop()
    }
  } finally {
    await database.destroy()
  }
}
