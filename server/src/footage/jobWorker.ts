import { setTimeout as pause } from 'node:timers/promises'
import type PgBoss from 'pg-boss'

/** Interval between two polls of the queue in milliseconds. */
const POLL_EVERY = 500

/**
 * Fetches the jobs of a queue one after the other and runs them, until it is stopped. A job is completed however its run
 * ends, since the state of the work is stored by who runs it. Errors, as those of a database that is away, are reported
 * and the queue is polled again. (pg-boss has workers of its own, but version 10 does not await the statement that
 * ends a job: a database that goes away during a job would end the process.)
 */
export class JobWorker<Data> {
  private isStopping = false
  private isNotified = false
  private waiting: AbortController | null = null
  private readonly ended: Promise<void>

  constructor(
    private readonly boss: Pick<PgBoss, 'fetch' | 'complete'>,
    private readonly queue: string,
    private readonly run: (data: Data) => Promise<void>,
    private readonly onError: (error: unknown) => void,
  ) {
    this.ended = this.loop()
  }

  /** Polls the queue at once. */
  notify(): void {
    this.isNotified = true
    this.waiting?.abort()
  }

  /** Fetches no further job, and resolves when the present one has ended. */
  stop(): Promise<void> {
    this.isStopping = true
    this.notify()
    return this.ended
  }

  private async loop(): Promise<void> {
    while (!this.isStopping) {
      this.isNotified = false
      const hadJob = await this.next().catch((error: unknown) => {
        this.onError(error)
        return false
      })
      if (!hadJob && !this.isNotified) await this.wait()
    }
  }

  private async next(): Promise<boolean> {
    const [job] = await this.boss.fetch<Data>(this.queue)
    if (!job) return false
    try {
      await this.run(job.data)
    } catch (error) {
      this.onError(error)
    }
    await this.boss.complete(this.queue, job.id)
    return true
  }

  private async wait(): Promise<void> {
    this.waiting = new AbortController()
    await pause(POLL_EVERY, undefined, { signal: this.waiting.signal }).catch(() => {})
    this.waiting = null
  }
}
