import { readConfig } from './config.ts'
import { serve } from './serve.ts'

const running = await serve(readConfig(process.env))
process.send?.({ ready: true })

let stopping = false
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    if (stopping) return
    stopping = true
    void running.stop().then(() => process.exit(0))
  })
