import { type Config, readConfig } from './config.ts'
import { demoIsLoaded } from './database/settings.ts'
import { type Running, serve } from './serve.ts'
import { whyNotStarted } from './starting.ts'

const running = await start()
process.send?.({ demoLoaded: await demoIsLoaded(running.services.database) })

async function start(): Promise<Running> {
  let config: Config | null = null
  try {
    config = readConfig(process.env)
    return await serve(config)
  } catch (error) {
    console.error(whyNotStarted(error, config) ?? error)
    process.exit(1)
  }
}

let stopping = false
function stop(): void {
  if (stopping) return
  stopping = true
  void running.stop().then(() => process.exit(0))
}
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, stop)
// Its starter was killed: nobody else will end it.
process.on('disconnect', stop)
