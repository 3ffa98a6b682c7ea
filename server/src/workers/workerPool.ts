import type { Logger } from 'pino'
import { Piscina } from 'piscina'
import { Problem } from '../problem.ts'
import { type Chunk, fromChunks } from './chunks.ts'
import type * as tasks from './tasks.worker.ts'

/** Maximum number of threads and of queued tasks. */
const MOST = { threads: 2, waiting: 20 }
/** Timeout of a task in milliseconds, time in the queue included. */
const PATIENCE = 120_000
/** Milliseconds after which an idle thread is terminated, which frees its memory. */
const IDLE = 60_000
/** Heap limit of a thread in megabytes. */
const MOST_MEMORY = 600
/** Length in characters from which JSON text is parsed in a worker thread; shorter text takes a few milliseconds. */
const LONG = 300_000

const busy = () =>
  new Problem(503, 'busy', 'The server is busy at the moment. Nothing was altered; try again in a minute.')

/** Worker threads for long computations, so that they do not block the event loop. */
export class WorkerPool {
  private readonly pool = new Piscina({
    filename: new URL('./tasks.mjs', import.meta.url).href,
    minThreads: 0,
    maxThreads: MOST.threads,
    idleTimeout: IDLE,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY },
  })

  constructor(log: Logger) {
    // The caller's promise rejects as well.
    this.pool.on('error', (error) => log.error({ err: error }, 'worker'))
  }

  /** Parses JSON, in a worker thread if it is long. Rejects with a SyntaxError. */
  async parse(text: string): Promise<unknown> {
    if (text.length < LONG) return JSON.parse(text)
    return fromChunks((await this.run('parse', text)) as Chunk[])
  }

  /**
   * Returns the text entries of an investigation packed into one file.
   *
   * @param document JSON text of the investigation
   * @param signal   aborts: terminates the thread
   */
  async pack(document: string, hasFootage: boolean, signal: AbortSignal): Promise<tasks.PackedBytes> {
    return (await this.run('pack', { document, hasFootage }, signal)) as tasks.PackedBytes
  }

  async close(): Promise<void> {
    await this.pool.destroy()
  }

  private async run(name: keyof typeof tasks, task: unknown, signal?: AbortSignal): Promise<unknown> {
    // The pool's own maxQueue does not count tasks with an abort signal.
    if (this.pool.queueSize >= MOST.waiting) throw busy()
    const late = AbortSignal.timeout(PATIENCE)
    try {
      return await this.pool.run(task, { name, signal: signal ? AbortSignal.any([signal, late]) : late })
    } catch (error) {
      if (late.aborted) throw busy()
      if ((error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new Problem(413, 'too-large', 'This takes more memory than the server gives to one request.')
      throw error
    }
  }
}
