import type { Logger } from 'pino'
import { Piscina } from 'piscina'
import { assembled, type Piece } from './pieces.ts'
import { Problem } from './problem.ts'
import type * as tasks from './tasks.worker.ts'

/** Threads at a time, and tasks that may wait for one. */
const MOST = { threads: 2, waiting: 20 }
/** Milliseconds that a task may take, waiting included. */
const PATIENCE = 120_000
/** Milliseconds after which a thread that has nothing to do ends, and gives its memory back. */
const IDLE = 60_000
/** Megabytes that a thread may take. */
const MOST_MEMORY = 600
/** Characters from which on JSON text is long: less takes a few milliseconds. */
const LONG = 300_000

/** Work that takes long, in threads of its own, so that nobody waits for what somebody else has asked for. */
export class Workers {
  private readonly pool = new Piscina({
    filename: new URL('./tasks.mjs', import.meta.url).href,
    minThreads: 0,
    maxThreads: MOST.threads,
    maxQueue: MOST.waiting,
    idleTimeout: IDLE,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY },
  })

  constructor(log: Logger) {
    // Who waits for the task is told as well.
    this.pool.on('error', (error) => log.error({ err: error }, 'worker'))
  }

  /** Parses JSON text: here where it is short, in a thread where it is long. Rejects with a SyntaxError where it is none. */
  async parse(text: string): Promise<unknown> {
    if (text.length < LONG) return JSON.parse(text)
    return assembled((await this.run('parse', text)) as Piece[])
  }

  /**
   * Writes what goes into the file of an investigation.
   *
   * @param document as JSON text
   * @param signal   gives up: the thread is ended
   */
  async pack(document: string, hasFootage: boolean, signal: AbortSignal): Promise<tasks.PackedBytes> {
    return (await this.run('pack', { document, hasFootage }, signal)) as tasks.PackedBytes
  }

  async close(): Promise<void> {
    await this.pool.destroy()
  }

  private async run(name: keyof typeof tasks, task: unknown, signal?: AbortSignal): Promise<unknown> {
    const late = AbortSignal.timeout(PATIENCE)
    try {
      return await this.pool.run(task, { name, signal: signal ? AbortSignal.any([signal, late]) : late })
    } catch (error) {
      const { message, code } = error as { message: string; code?: string }
      if (late.aborted || /queue/i.test(message))
        throw new Problem(
          503,
          'busy',
          'The server has more to do at this moment than it manages. Nothing was altered; try again in a minute.',
        )
      if (code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new Problem(413, 'too-large', 'This takes more memory than the server gives to one request.')
      throw error
    }
  }
}
