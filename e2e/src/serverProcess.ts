import { type ChildProcess, fork } from 'node:child_process'
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

const DATABASE = 'served'

/** A server in a process of its own with a PostgreSQL of its own. Either can be killed and started again. */
export class ServerProcess {
  private server: ChildProcess | null = null

  private constructor(
    private readonly folder: string,
    readonly footageFolder: string,
    private cluster: Cluster,
    readonly port: number,
    private readonly env: NodeJS.ProcessEnv,
  ) {}

  static async start(env: NodeJS.ProcessEnv = {}): Promise<ServerProcess> {
    const folder = throwawayFolder()
    const cluster = await startCluster(folder, { throwaway: true })
    await ensureDatabase(cluster, DATABASE)
    const footageFolder = mkdtempSync(join(tmpdir(), 'apokinema-footage-'))
    const started = new ServerProcess(folder, footageFolder, cluster, await freePort(), env)
    await started.startServer()
    return started
  }

  get origin(): string {
    return `http://127.0.0.1:${this.port}`
  }

  get databaseUrl(): string {
    return this.cluster.url(DATABASE)
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
      FOOTAGE_DIR: this.footageFolder,
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
    rmSync(this.footageFolder, { recursive: true, force: true })
  }
}
