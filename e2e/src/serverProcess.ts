import { type ChildProcess, fork } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Cluster, freePort, startCluster, throwawayFolder } from '@apokinema/server/cluster'
import { ensureDatabase } from '@apokinema/server/roles'
import { SERVER } from '../../scripts/build.ts'

const DATABASE = 'served'

/** A server in a process of its own with a PostgreSQL of its own. Either can be killed and started again. */
export class ServerProcess {
  private server: ChildProcess | null = null

  private constructor(
    private readonly folder: string,
    readonly footageFolder: string,
    /** The PostgreSQL, in a holder that servers beside each other share. */
    private readonly database: { cluster: Cluster },
    readonly port: number,
    private readonly env: NodeJS.ProcessEnv,
  ) {}

  static async start(env: NodeJS.ProcessEnv = {}): Promise<ServerProcess> {
    const folder = throwawayFolder()
    const cluster = await startCluster(folder, { throwaway: true })
    await ensureDatabase(cluster, DATABASE)
    const footageFolder = mkdtempSync(join(tmpdir(), 'apokinema-footage-'))
    const started = new ServerProcess(folder, footageFolder, { cluster }, await freePort(), env)
    await started.startServer()
    return started
  }

  /** Returns a second server on the database and the footage folder of this one, which is to be stopped after it. */
  async beside(): Promise<ServerProcess> {
    const { folder, footageFolder, database, env } = this
    const other = new ServerProcess(folder, footageFolder, database, await freePort(), env)
    await other.startServer()
    return other
  }

  get origin(): string {
    return `http://127.0.0.1:${this.port}`
  }

  get databaseUrl(): string {
    return this.database.cluster.url(DATABASE)
  }

  /** Process id of the server that runs. */
  get serverPid(): number {
    return this.server!.pid!
  }

  private get hasEnded(): boolean {
    return this.server!.exitCode !== null || this.server!.signalCode !== null
  }

  /** Process id of PostgreSQL's postmaster. */
  get databasePid(): number {
    return this.database.cluster.pid
  }

  async startServer(): Promise<void> {
    const env = {
      ...process.env,
      ...this.env,
      DATABASE_URL: this.databaseUrl,
      FOOTAGE_DIR: this.footageFolder,
      PORT: String(this.port),
      HOST: '127.0.0.1',
      LOG_FILE: join(this.folder, `server-${this.port}.log`),
    }
    const child = fork(SERVER, {
      env,
      execArgv: ['--enable-source-maps'],
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    })
    this.server = child
    const [message] = await Promise.race([once(child, 'message'), once(child, 'exit').then(() => [null])])
    if (!message) throw new Error('The server did not start.')
  }

  /** Kills the server outright. Throws if it had ended by itself, which is a fault. */
  async killServer(): Promise<void> {
    if (this.hasEnded) throw new Error('The server had ended by itself.')
    const gone = once(this.server!, 'exit')
    this.server!.kill('SIGKILL')
    await gone
  }

  async restart(): Promise<void> {
    await this.stopServer()
    await this.startServer()
  }

  /** Kills PostgreSQL's postmaster outright. */
  async killDatabase(): Promise<void> {
    process.kill(this.database.cluster.pid, 'SIGKILL')
    await this.database.cluster.ended
  }

  /** Starts PostgreSQL again after it was killed; it may come back on another port, so the server goes with it. */
  async reviveDatabase(): Promise<void> {
    this.database.cluster = await startCluster(this.folder, { throwaway: true })
    await this.killServer()
    await this.startServer()
  }

  /** Ends the server as an administrator does. */
  async stopServer(): Promise<void> {
    if (!this.server || this.hasEnded) return
    const gone = once(this.server, 'exit')
    this.server.kill('SIGTERM')
    await gone
  }

  async stop(): Promise<void> {
    await this.stopServer()
    await this.database.cluster.stop()
    rmSync(this.folder, { recursive: true, force: true })
    rmSync(this.footageFolder, { recursive: true, force: true })
  }
}
