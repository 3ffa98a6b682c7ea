import { rm } from 'node:fs/promises'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import type { ConversionAnswer, ConversionState, FootageKind } from '@apokinema/core/api'
import type { Knex } from 'knex'
import PgBoss from 'pg-boss'
import type { Logger } from 'pino'
import type { ServerRegistry } from '../database/serverRegistry.ts'
import { Problem } from '../problem.ts'
import { serialQueue } from '../serialQueue.ts'
import { type BlobStore, pathOf, type StoredFile } from './blobStore.ts'
import { ConversionError, checkAmount, convert, type Input, isLarge, type Limits, probe } from './ffmpeg.ts'
import { JobWorker } from './jobWorker.ts'
import { linkFootage, storeFile } from './links.ts'
import { STILLS_LIMITS, unpackStills } from './stills.ts'

interface ConversionRow {
  id: string
  investigation_id: string
  source_sha256: string
  result_sha256: string | null
  name: string
  kind: Exclude<FootageKind, 'as-it-is'>
  rate: string | null
  state: ConversionState
  progress: number
  problem: string | null
  technical: string | null
  /** The server that runs it. */
  server_id: string | null
  /** Order of the requests. */
  number: string
}

/** A requested conversion; `id` becomes that of the footage. */
export interface ConversionRequest {
  id: string
  investigation: string
  name: string
  kind: Exclude<FootageKind, 'as-it-is'>
  rate: string | null
}

const QUEUE = 'conversions'
/** Number of concurrent conversions. */
const WORKERS = 2
const HOUR = 3600
const LIMITS: Limits = { seconds: HOUR, outputBytes: 8_000_000_000 }
/** Least interval between two updates of the progress, in milliseconds. */
const TELL_EVERY = 400
/** Longest wait in milliseconds for conversions to end when the server stops. */
const STOP_TIMEOUT = 5000

/** Abort reason of a conversion that was cancelled or whose lease was lost. */
class LeaseLost extends Error {}

/**
 * Conversions of footage that browsers can't decode, as jobs of a queue in the database: they survive a
 * restarted server, and each server runs two at a time. The row of a conversion has its state and the server that holds its
 * lease; a job only wakes a worker, which acquires the lease with one update. Conversions of a dead server are restarted
 * by another one, and a cancelled conversion is aborted by its holder.
 */
export class Conversions {
  private readonly boss: PgBoss
  private readonly running = new Map<string, AbortController>()
  /** Conversions of this server whose lease is held, or is being acquired. */
  private readonly own = new Set<string>()
  private stopping = false
  private readonly workers: JobWorker<{ id: string }>[] = []
  /** Conversions of large frames run one at a time, to limit memory. */
  private readonly largeQueue = serialQueue()

  constructor(
    private readonly database: Knex,
    databaseUrl: string,
    private readonly blobs: BlobStore,
    private readonly registry: ServerRegistry,
    private readonly log: Logger,
    private readonly limits: Limits = LIMITS,
  ) {
    this.boss = new PgBoss({ connectionString: databaseUrl, max: 4, schedule: false })
    this.boss.on('error', (error) => log.warn({ err: error }, 'queue'))
  }

  /** Starts working on jobs. */
  async start(): Promise<void> {
    await this.boss.start()
    // At most one job per conversion is queued.
    await this.boss.createQueue(QUEUE, { name: QUEUE, policy: 'short' })
    await this.reconcile()
    for (let worker = 0; worker < WORKERS; worker++)
      this.workers.push(
        new JobWorker(
          this.boss,
          QUEUE,
          ({ id }) => this.work(id),
          (error) => this.log.warn({ err: error }, 'queue'),
        ),
      )
  }

  /**
   * Aborts local conversions whose lease was lost (cancelled, or taken over), resets running ones of dead servers to
   * waiting, and queues all waiting ones. Called with every heartbeat.
   */
  async reconcile(): Promise<void> {
    const running = [...this.running.keys()]
    const still: string[] = await this.rows().where(this.leased()).whereIn('id', running).pluck('id')
    for (const id of running) if (!still.includes(id)) this.running.get(id)?.abort(new LeaseLost())
    await this.rows()
      .where({ state: 'running' })
      .andWhere((query) =>
        query
          .whereNull('server_id')
          .orWhere((own) => own.where({ server_id: this.registry.id }).whereNotIn('id', [...this.own])),
      )
      .update({ state: 'waiting', progress: 0, server_id: null })
    const waiting: string[] = await this.rows().where({ state: 'waiting' }).orderBy('number').pluck('id')
    if (waiting.length > 0) await this.enqueue(waiting)
  }

  /** Aborts running conversions; they are restarted by the next start. */
  async stop(): Promise<void> {
    this.stopping = true
    for (const controller of this.running.values()) controller.abort(new LeaseLost())
    const ended = Promise.all(this.workers.map((worker) => worker.stop()))
    await Promise.race([ended, pause(STOP_TIMEOUT, undefined, { ref: false })])
    await this.boss.stop({ graceful: true, timeout: STOP_TIMEOUT, wait: true }).catch(() => {})
  }

  /**
   * Requests a conversion. An earlier result of the same file is used at once.
   *
   * @param path of the file, which is moved from there
   */
  async request(request: ConversionRequest, path: string, source: StoredFile): Promise<void> {
    const { id, investigation, name, kind, rate } = request
    await storeFile(this.database, this.blobs, path, source, async (on) => {
      const made = await on<ConversionRow>('conversions')
        .where({ source_sha256: source.sha256, kind, state: 'done' })
        .andWhere((query) => (rate === null ? query.whereNull('rate') : query.where({ rate })))
        .whereNotNull('result_sha256')
        .first()
      await on('conversions')
        .insert({
          id,
          investigation_id: investigation,
          source_sha256: source.sha256,
          result_sha256: made?.result_sha256 ?? null,
          name,
          kind,
          rate,
          state: made ? 'done' : 'waiting',
          progress: made ? 1 : 0,
        })
        .onConflict('id')
        .ignore()
      if (made) {
        const sha256 = made.result_sha256!
        await linkFootage(on, { investigation, id, sha256, hasPoster: false, original: source.sha256 })
      }
    })
    await this.enqueue([id])
  }

  /** Returns the state of an investigation's newest conversion; null if it has none. */
  async of(investigation: string): Promise<ConversionAnswer | null> {
    const row = await this.newest(investigation)
    if (!row) return null
    const [{ count }] = await this.rows()
      .whereIn('state', ['waiting', 'running'])
      .andWhere('number', '<', row.number)
      .count<{ count: string }[]>('id as count')
    const file = await this.database('files').where({ sha256: row.source_sha256 }).first('size')
    const { id, name, state, progress, problem, technical } = row
    const ahead = state === 'waiting' ? Math.max(0, Number(count) - WORKERS + 1) : 0
    return { id, name, size: Number(file.size), state, progress, ahead, problem, technical }
  }

  /** Cancels a waiting or running conversion. */
  async cancel(investigation: string): Promise<void> {
    const row = await this.newest(investigation)
    if (!row) return
    await this.rows()
      .where({ id: row.id })
      .whereIn('state', ['waiting', 'running'])
      .update({ state: 'cancelled', progress: 0 })
    this.running.get(row.id)?.abort(new LeaseLost())
  }

  /** Restarts a conversion that failed or was cancelled. */
  async again(investigation: string): Promise<void> {
    const row = await this.newest(investigation)
    if (!row) throw new Problem(404, 'no-conversion', 'There is nothing to convert here.')
    const changed = await this.rows()
      .where({ id: row.id })
      .whereIn('state', ['failed', 'cancelled'])
      .update({ state: 'waiting', progress: 0, problem: null, technical: null })
    if (changed > 0) await this.enqueue([row.id])
  }

  private rows() {
    return this.database<ConversionRow>('conversions')
  }

  private newest(investigation: string): Promise<ConversionRow | undefined> {
    return this.rows().where({ investigation_id: investigation }).orderBy('number', 'desc').first()
  }

  private async enqueue(ids: string[]): Promise<void> {
    await this.boss.insert(ids.map(jobOf))
    // Otherwise they would start at the next poll.
    for (const worker of this.workers) worker.notify()
  }

  /** Columns of a row whose lease this server holds. */
  private leased() {
    return { state: 'running', server_id: this.registry.id } as const
  }

  private async work(id: string): Promise<void> {
    if (this.stopping || this.own.has(id)) return
    // Added before the row is leased: a leased row that is not in this set was left behind by a fault, see `reconcile`.
    this.own.add(id)
    try {
      const [row] = await this.rows()
        .where({ id, state: 'waiting' })
        .update({ ...this.leased(), progress: 0 })
        .returning('*')
      if (!row) return
      const controller = new AbortController()
      this.running.set(id, controller)
      if (this.stopping) controller.abort(new LeaseLost())
      await this.run(row, controller.signal)
    } finally {
      this.running.delete(id)
      this.own.delete(id)
    }
  }

  private async run(row: ConversionRow, signal: AbortSignal): Promise<void> {
    const { id } = row
    const folder = await this.blobs.workFolder(id)
    try {
      const { path, file } = await this.make(row, folder, signal)
      await storeFile(this.database, this.blobs, path, file, async (on) => {
        const isLeased = await on<ConversionRow>('conversions')
          .where({ id, ...this.leased() })
          .update({ state: 'done', progress: 1, result_sha256: file.sha256, server_id: null })
        if (!isLeased) throw new LeaseLost()
        await linkFootage(on, {
          investigation: row.investigation_id,
          id,
          sha256: file.sha256,
          hasPoster: false,
          original: row.source_sha256,
        })
      })
    } catch (error) {
      await this.giveUp(id, error)
    } finally {
      await rm(folder, { recursive: true, force: true })
    }
  }

  private async giveUp(id: string, error: unknown): Promise<void> {
    const change = (changed: Partial<ConversionRow>) =>
      this.rows()
        .where({ id, ...this.leased() })
        .update({ ...changed, server_id: null })
    if (this.stopping || error instanceof LeaseLost) {
      await change({ state: 'waiting', progress: 0 })
    } else if (error instanceof ConversionError) {
      await change({ state: 'failed', problem: error.message, technical: error.technical })
    } else if ((error as { code?: string }).code === 'ENOSPC') {
      await change({
        state: 'failed',
        problem: 'The disk of the server is full. Make room on it, then try again.',
        technical: null,
      })
    } else {
      this.log.error({ err: error, conversion: id }, 'conversion')
      await change({
        state: 'failed',
        problem: 'Something went wrong on the server while converting. Try it again.',
        technical: null,
      })
    }
  }

  private async make(
    row: ConversionRow,
    folder: string,
    signal: AbortSignal,
  ): Promise<{ path: string; file: StoredFile }> {
    const path = join(this.blobs.root, pathOf(row.source_sha256))
    const input = await inputOf(row, path, folder, signal)
    const output = join(folder, 'made.mp4')
    let told = 0
    const { duration } = input.source
    const turn = isLarge(input.source) ? this.largeQueue : <T>(act: () => Promise<T>) => act()
    const onProgress = (seconds: number) => {
      if (!duration || Date.now() - told < TELL_EVERY) return
      told = Date.now()
      const progress = Math.min(0.99, seconds / duration)
      this.rows()
        .where({ id: row.id, ...this.leased() })
        .update({ progress })
        .catch(() => {})
    }
    await turn(() => convert(input, output, this.limits, signal, onProgress))
    // A file without a frame has no picture size.
    await probe(output, signal).catch((error: ConversionError) => {
      throw new ConversionError('No frame of this file could be decoded: it is damaged.', error.technical)
    })
    return { path: output, file: await this.blobs.measure(output) }
  }
}

async function inputOf(
  row: ConversionRow,
  path: string,
  folder: string,
  signal: AbortSignal,
): Promise<Input> {
  if (row.kind === 'video') {
    const source = await probe(path, signal)
    checkAmount(source)
    return { kind: 'video', path, source }
  }
  const stills = await unpackStills(path, join(folder, 'stills'), STILLS_LIMITS, signal)
  const rate = rational(row.rate ?? '30')
  const first = await probe(stills.pattern.replace('%06d', '000001'), signal)
  return {
    kind: 'stills',
    pattern: stills.pattern,
    rate,
    source: { ...first, duration: (stills.count * rate[1]) / rate[0], interlaced: false },
  }
}

const jobOf = (id: string) => ({
  name: QUEUE,
  data: { id },
  singletonKey: id,
  expireInSeconds: 2 * HOUR,
  retryLimit: 0,
})

/** Returns a decimal number as a fraction: 29.97 is 2997/100. */
function rational(text: string): [number, number] {
  const decimals = text.split('.')[1]?.length ?? 0
  return [Math.round(Number(text) * 10 ** decimals), 10 ** decimals]
}
