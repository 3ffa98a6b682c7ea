import { type ChildProcess, fork } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import {
  type Cluster,
  ensureDatabase,
  freePort,
  startCluster,
  throwawayFolder,
} from '@apokinema/server/cluster'
import { ROOT } from '../../scripts/folders.ts'

/** A server of its own with a throwaway PostgreSQL, for one test file. Either can be killed and started again. */
export class World {
  private server: ChildProcess | null = null

  private constructor(
    private readonly folder: string,
    private readonly footage: string,
    private cluster: Cluster,
    private readonly database: string,
    readonly port: number,
    private readonly env: NodeJS.ProcessEnv,
  ) {}

  static async start(env: NodeJS.ProcessEnv = {}): Promise<World> {
    const folder = throwawayFolder()
    const cluster = await startCluster(folder, { throwaway: true })
    const database = `test_${randomBytes(4).toString('hex')}`
    await ensureDatabase(cluster, database)
    const footage = mkdtempSync(join(tmpdir(), 'apokinema-footage-'))
    const world = new World(folder, footage, cluster, database, await freePort(), env)
    await world.startServer()
    return world
  }

  get origin(): string {
    return `http://127.0.0.1:${this.port}`
  }

  get databaseUrl(): string {
    return this.cluster.url(this.database)
  }

  get footageFolder(): string {
    return this.footage
  }

  /** Process id of the server that runs. */
  get serverPid(): number {
    return this.server!.pid!
  }

  async startServer(): Promise<void> {
    const env = {
      ...process.env,
      ...this.env,
      DATABASE_URL: this.databaseUrl,
      FOOTAGE_DIR: this.footage,
      PORT: String(this.port),
      HOST: '127.0.0.1',
    }
    const child = fork(join(ROOT, 'server/src/main.ts'), {
      env,
      execArgv: ['--import', 'tsx'],
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    })
    this.server = child
    const [message] = await Promise.race([once(child, 'message'), once(child, 'exit').then(() => [null])])
    if (!message) throw new Error('The server did not start.')
  }

  async killServer(): Promise<void> {
    const gone = once(this.server!, 'exit')
    this.server!.kill('SIGKILL')
    await gone
  }

  /** Kills PostgreSQL's postmaster outright. */
  async killDatabase(): Promise<void> {
    process.kill(this.cluster.pid, 'SIGKILL')
    await this.cluster.ended
  }

  /** Starts PostgreSQL again after it was killed; it may come back on another port, so the server goes with it. */
  async reviveDatabase(): Promise<void> {
    this.cluster = await startCluster(this.folder, { throwaway: true })
    await this.killServer()
    await this.startServer()
  }

  async stop(): Promise<void> {
    if (this.server && this.server.exitCode === null && this.server.signalCode === null) {
      const gone = once(this.server, 'exit')
      this.server.kill('SIGTERM')
      await gone
    }
    await this.cluster.stop()
    rmSync(this.folder, { recursive: true, force: true })
    rmSync(this.footage, { recursive: true, force: true })
  }
}
