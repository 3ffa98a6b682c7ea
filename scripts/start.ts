import { type ChildProcess, fork } from 'node:child_process'
import { once } from 'node:events'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { type Cluster, startCluster } from '@apokinema/server/cluster'
import { type Config, isLoopback, readConfig } from '@apokinema/server/config'
import { ensureDatabase } from '@apokinema/server/roles'
import { whyNotListening } from '@apokinema/server/starting'
import { buildAll, SERVER } from './build.ts'
import { dataFolder, footageFolder } from './folders.ts'

/** `npm start`: database, pages and server up, demo data in, and all of it down again on Ctrl-C. */

const say = (text: string) => console.log(text)
const config = settings()
const { host, port, tls, publicOrigin } = config
const scheme = tls ? 'https' : 'http'
const shownHost = host === '0.0.0.0' || host === '::' ? 'localhost' : host
const address = `${scheme}://${shownHost.includes(':') ? `[${shownHost}]` : shownHost}:${port}`

let cluster: Cluster | null = null
let server: ChildProcess | null = null
let stopping = false

async function stop(code: number): Promise<never> {
  stopping = true
  if (server && server.exitCode === null && server.signalCode === null) {
    const gone = once(server, 'exit')
    server.kill('SIGTERM')
    await gone
  }
  await cluster?.stop()
  process.exit(code)
}

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const)
  process.on(signal, () => {
    if (stopping) return
    say('\nStopping …')
    void stop(0)
  })

async function portIsFree(): Promise<void> {
  const probe = createServer()
  probe.listen(port, host)
  try {
    await once(probe, 'listening')
  } catch (error) {
    throw new Error(whyNotListening((error as { code?: string }).code, config))
  }
  probe.close()
  await once(probe, 'close')
}

async function startDatabase(): Promise<string> {
  if (process.env.DATABASE_URL) return process.env.DATABASE_URL
  say('Starting PostgreSQL …')
  cluster = await startCluster(dataFolder())
  const started = cluster
  void started.ended.then(() => {
    if (!stopping && cluster === started) void revive()
  })
  return ensureDatabase(cluster, 'apokinema')
}

/** PostgreSQL died under a running server: it is started again, and the server with its new address. */
async function revive(): Promise<void> {
  say('PostgreSQL ended unexpectedly; starting it again …')
  try {
    const url = await startDatabase()
    server?.kill('SIGKILL')
    await startServer(url)
    say('It runs again.')
  } catch (error) {
    console.error((error as Error).message)
    await stop(1)
  }
}

function serverEnvironment(databaseUrl: string): NodeJS.ProcessEnv {
  const logFile = process.env.LOG_FILE || join(dataFolder(), 'server.log')
  return { ...process.env, DATABASE_URL: databaseUrl, FOOTAGE_DIR: footageFolder(), LOG_FILE: logFile }
}

/** Starts the server and tells what it says when it is ready. One that ends by itself is started again. */
async function startServer(databaseUrl: string): Promise<{ demoLoaded: boolean }> {
  const env = serverEnvironment(databaseUrl)
  const child = fork(SERVER, { env, execArgv: ['--enable-source-maps'], detached: true })
  server = child
  const [message] = await Promise.race([once(child, 'message'), once(child, 'exit').then(() => [null])])
  if (!message) throw new Error('The server did not start; see above.')
  child.once('exit', () => {
    if (stopping || server !== child) return
    say('The server ended unexpectedly; starting it again …')
    startServer(databaseUrl).catch(async (error) => {
      console.error(error.message)
      await stop(1)
    })
  })
  return message as { demoLoaded: boolean }
}

/** At the first start only: the server makes way for the one that takes the demo data in. What that needs is loaded only then. */
async function loadDemo(databaseUrl: string): Promise<void> {
  const running = server
  server = null
  if (running) {
    const gone = once(running, 'exit')
    running.kill('SIGTERM')
    await gone
  }
  const { loadDemoOnce } = await import('./demoData.ts')
  await loadDemoOnce(serverEnvironment(databaseUrl), say)
  await startServer(databaseUrl)
}

/** Returns all settings are looked at before anything slow is begun. */
function settings(): Config {
  const databaseUrl = process.env.DATABASE_URL ?? 'postgres://apokinema@127.0.0.1/apokinema'
  try {
    return readConfig(serverEnvironment(databaseUrl))
  } catch (error) {
    console.error(`\n${(error as Error).message}`)
    process.exit(1)
  }
}

try {
  await portIsFree()
  const [databaseUrl] = await Promise.all([startDatabase(), Promise.resolve().then(() => buildAll(say))])
  say('Starting the server …')
  const { demoLoaded } = await startServer(databaseUrl)
  if (!demoLoaded) await loadDemo(databaseUrl)
  say(`\nApokinema is at ${publicOrigin ?? address}\nIts log is ${config.logFile}.\nCtrl-C stops it.`)
  if (!isLoopback(host))
    say(
      '\nNote: everyone on the network can see, change and delete everything here, as OPEN_TO_NETWORK says.',
    )
  if (scheme === 'http' && !isLoopback(host) && !publicOrigin)
    say(
      `\nNote: from other machines browsers will refuse to decode video over plain http.\nGive a certificate: TLS_CERT=cert.pem TLS_KEY=key.pem HOST=${host} npm start`,
    )
} catch (error) {
  console.error(`\n${(error as Error).message}`)
  await stop(1)
}
