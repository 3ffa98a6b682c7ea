import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { join } from 'node:path'
import { type Cluster, startCluster } from '@apokinema/server/cluster'
import { ensureDatabase } from '@apokinema/server/roles'
import { loadDemoOnce } from './demoData.ts'
import { dataFolder, ROOT } from './folders.ts'

/** `npm run dev`: pages with hot reload from Vite, and the API from a server that restarts when its code changes. */

const port = Number(process.env.PORT || 5170)
const apiPort = port + 1

let cluster: Cluster | null = null
if (!process.env.DATABASE_URL) cluster = await startCluster(dataFolder())
const databaseUrl = process.env.DATABASE_URL ?? (await ensureDatabase(cluster!, 'apokinema'))
const env: NodeJS.ProcessEnv = {
  ...process.env,
  DATABASE_URL: databaseUrl,
  FOOTAGE_DIR: process.env.FOOTAGE_DIR ?? join(dataFolder(), 'footage'),
}
await loadDemoOnce(env, console.log)

const server = spawn(
  process.execPath,
  ['--import', 'tsx', '--watch-path', 'server/src', '--watch-path', 'core/src', 'server/src/main.ts'],
  {
    cwd: ROOT,
    env: { ...env, PORT: String(apiPort), HOST: '127.0.0.1' },
    stdio: 'inherit',
  },
)
// Vite itself and not npx, which would not hand a signal on.
const pages = spawn(process.execPath, [join(ROOT, 'node_modules/vite/bin/vite.js')], {
  cwd: join(ROOT, 'web'),
  env: { ...process.env, PORT: String(port), API_ORIGIN: `http://127.0.0.1:${apiPort}` },
  stdio: 'inherit',
})

let stopping = false
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, async () => {
    if (stopping) return
    stopping = true
    const gone = [server, pages].map((child) => (child.exitCode === null ? once(child, 'exit') : null))
    server.kill('SIGTERM')
    pages.kill('SIGTERM')
    await Promise.all(gone)
    await cluster?.stop()
    process.exit(0)
  })
