import { rm } from 'node:fs/promises'
import { join } from 'node:path'
import type { ConversionAnswer, ConversionState, FootageKind } from '@apokinema/core/api'
import type { Knex } from 'knex'
import PgBoss from 'pg-boss'
import type { Logger } from 'pino'
import { Problem } from '../problem.ts'
import { ConversionError, convert, type Input, type Limits, probe } from './ffmpeg.ts'
import { linkFootage, noteFile } from './links.ts'
import { STILLS_LIMITS, unpackStills } from './stills.ts'
import { pathOf, type StoredFile, type Vault } from './vault.ts'

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
  created_at: Date
}

/** What is asked of a conversion; `id` becomes that of the footage. */
export interface ConversionRequest {
  id: string
  investigation: string
  name: string
  kind: Exclude<FootageKind, 'as-it-is'>
  rate: string | null
}

const QUEUE = 'convert'
/** Conversions at a time. */
const WORKERS = 2
const HOUR = 3600
const LIMITS: Limits = { seconds: HOUR, outputBytes: 8_000_000_000 }
/** Progress is written down at most this often, in milliseconds. */
const TELL_EVERY = 400

/**
 * Conversions of footage that browsers can't decode, as jobs of a queue in the database: they survive a
 * restarted server, and two run at a time. The row of a conversion says how it stands; a job only says
 * that one waits, and a worker that takes it makes sure with one update that nobody else has.
 */
export class Conversions {
  private readonly boss: PgBoss
  private readonly running = new Map<string, AbortController>()
  private stopping = false

  constructor(
    private readonly database: Knex,
    databaseUrl: string,
    private readonly vault: Vault,
    private readonly log: Logger,
    private readonly limits: Limits = LIMITS,
  ) {
    this.boss = new PgBoss({ connectionString: databaseUrl, max: 4, schedule: false })
    this.boss.on('error', (error) => log.warn({ err: error }, 'queue'))
  }

  /** Takes up work, first of all what a server that was killed left behind. */
  async start(): Promise<void> {
    await this.boss.start()
    await this.boss.createQueue(QUEUE)
    await this.boss.purgeQueue(QUEUE)
    await this.rows().where({ state: 'running' }).update({ state: 'waiting', progress: 0 })
    for (const { id } of await this.rows().where({ state: 'waiting' }).orderBy('created_at').select('id'))
      await this.enqueue(id)
    for (let worker = 0; worker < WORKERS; worker++)
      await this.boss.work<{ id: string }>(QUEUE, { pollingIntervalSeconds: 0.5 }, async ([job]) => {
        await this.work(job.data.id)
      })
  }

  /** Ends what runs; it is begun anew by the next start. */
  async stop(): Promise<void> {
    this.stopping = true
    for (const controller of this.running.values()) controller.abort()
    await this.boss.stop({ graceful: true, timeout: 5000, wait: true }).catch(() => {})
  }

  /** Asks for a conversion. One that was made before of the same file is used at once. */
  async request(request: ConversionRequest, source: StoredFile): Promise<void> {
    const { id, investigation, name, kind, rate } = request
    await this.database.transaction(async (on) => {
      await noteFile(on, source)
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
        const file = (await on<StoredFile>('files').where({ sha256: made.result_sha256! }).first())!
        await linkFootage(on, { investigation, id, file, hasPoster: false, original: source.sha256 })
      }
    })
    await this.enqueue(id)
  }

  /** How the newest conversion of an investigation stands; null where it has none. */
  async of(investigation: string): Promise<ConversionAnswer | null> {
    const row = await this.newest(investigation)
    if (!row) return null
    const [{ count }] = await this.rows()
      .whereIn('state', ['waiting', 'running'])
      .andWhere('created_at', '<', row.created_at)
      .count<{ count: string }[]>('id as count')
    const file = await this.database('files').where({ sha256: row.source_sha256 }).first('size')
    const { id, name, state, progress, problem, technical } = row
    const ahead = state === 'waiting' ? Math.max(0, Number(count) - WORKERS + 1) : 0
    return { id, name, size: Number(file.size), state, progress, ahead, problem, technical }
  }

  /** Stops a conversion that waits or runs. */
  async cancel(investigation: string): Promise<void> {
    const row = await this.newest(investigation)
    if (!row) return
    await this.rows()
      .where({ id: row.id })
      .whereIn('state', ['waiting', 'running'])
      .update({ state: 'cancelled', progress: 0 })
    this.running.get(row.id)?.abort()
  }

  /** Begins a conversion anew that failed or was cancelled. */
  async again(investigation: string): Promise<void> {
    const row = await this.newest(investigation)
    if (!row) throw new Problem(404, 'no-conversion', 'There is nothing to convert here.')
    const changed = await this.rows()
      .where({ id: row.id })
      .whereIn('state', ['failed', 'cancelled'])
      .update({ state: 'waiting', progress: 0, problem: null, technical: null })
    if (changed > 0) await this.enqueue(row.id)
  }

  private rows() {
    return this.database<ConversionRow>('conversions')
  }

  private newest(investigation: string): Promise<ConversionRow | undefined> {
    return this.rows().where({ investigation_id: investigation }).orderBy('created_at', 'desc').first()
  }

  private async enqueue(id: string): Promise<void> {
    await this.boss.send(QUEUE, { id }, { expireInSeconds: 2 * HOUR, retryLimit: 0 })
  }

  private async work(id: string): Promise<void> {
    const [row] = await this.rows()
      .where({ id, state: 'waiting' })
      .update({ state: 'running', progress: 0 })
      .returning('*')
    if (!row) return
    const controller = new AbortController()
    this.running.set(id, controller)
    const folder = await this.vault.workFolder(id)
    try {
      const file = await this.make(row, folder, controller.signal)
      await this.database.transaction(async (on) => {
        const done = await on<ConversionRow>('conversions')
          .where({ id, state: 'running' })
          .forUpdate()
          .first()
        if (!done) return
        await linkFootage(on, {
          investigation: row.investigation_id,
          id,
          file,
          hasPoster: false,
          original: row.source_sha256,
        })
        await on('conversions')
          .where({ id })
          .update({ state: 'done', progress: 1, result_sha256: file.sha256 })
      })
    } catch (error) {
      await this.giveUp(id, error)
    } finally {
      this.running.delete(id)
      await rm(folder, { recursive: true, force: true })
    }
  }

  private async giveUp(id: string, error: unknown): Promise<void> {
    const change = (changed: Partial<ConversionRow>) =>
      this.rows().where({ id, state: 'running' }).update(changed)
    if (this.stopping) {
      await change({ state: 'waiting', progress: 0 })
    } else if (error instanceof ConversionError) {
      await change({ state: 'failed', problem: error.message, technical: error.technical })
    } else if ((error as { code?: string }).code === 'ENOSPC') {
      await change({
        state: 'failed',
        problem: 'The disk of the server is full. Make room on it, then try again.',
        technical: String(error),
      })
    } else {
      this.log.error({ err: error, conversion: id }, 'conversion')
      await change({
        state: 'failed',
        problem: 'Something went wrong on the server while converting. Try it again.',
        technical: String(error),
      })
    }
  }

  private async make(row: ConversionRow, folder: string, signal: AbortSignal): Promise<StoredFile> {
    const path = join(this.vault.root, pathOf(row.source_sha256))
    const input = await inputOf(row, path, folder, signal)
    const output = join(folder, 'made.mp4')
    let told = 0
    const { duration } = input.source
    await convert(input, output, this.limits, signal, (seconds) => {
      if (!duration || Date.now() - told < TELL_EVERY) return
      told = Date.now()
      const progress = Math.min(0.99, seconds / duration)
      this.rows()
        .where({ id: row.id, state: 'running' })
        .update({ progress })
        .catch(() => {})
    })
    // A file without a frame has no size of its picture.
    await probe(output, signal).catch((error: ConversionError) => {
      throw new ConversionError('No frame of this file could be decoded: it is damaged.', error.technical)
    })
    return this.vault.adopt(output)
  }
}

async function inputOf(
  row: ConversionRow,
  path: string,
  folder: string,
  signal: AbortSignal,
): Promise<Input> {
  if (row.kind === 'video') return { kind: 'video', path, source: await probe(path, signal) }
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

/** A decimal number as a fraction: 29.97 is 2997/100. */
function rational(text: string): [number, number] {
  const decimals = text.split('.')[1]?.length ?? 0
  return [Math.round(Number(text) * 10 ** decimals), 10 ** decimals]
}
