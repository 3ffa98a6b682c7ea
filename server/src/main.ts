import { readConfig } from './config.ts'
import { demoIsLoaded } from './database/settings.ts'
import { serve } from './serve.ts'

const running = await serve(readConfig(process.env))
process.send?.({ demoLoaded: await demoIsLoaded(running.room.database) })

let stopping = false
function stop(): void {
  if (stopping) return
  stopping = true
  void running.stop().then(() => process.exit(0))
}
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, stop)
// Whoever started this one was killed: nobody is left to end it.
process.on('disconnect', stop)
