import { randomUUID } from 'node:crypto'
import { mkdir, readdir, readFile, rm, stat, statfs } from 'node:fs/promises'
import { join } from 'node:path'
import { API } from '@apokinema/core/api'
import { FileStore } from '@tus/file-store'
import { Server as TusServer } from '@tus/server'
import type { Middleware } from 'koa'
import { serialQueue } from '../serialQueue.ts'
import { grantTraverse } from './converterAccount.ts'
import { UploadLocks } from './uploadLocks.ts'

const MINUTE = 60_000
const HOUR = 60 * MINUTE
/** An unfinished upload is removed after this time without progress; after a day if nothing of it ever arrived. */
const WEEK = 7 * 24 * HOUR
/** Maximum number of unfinished uploads. */
const MOST_OPEN = 200
/** Free disk space in bytes that uploads leave to conversions and the database. */
const KEPT_FREE = 500_000_000

const DISK_FULL = {
  status_code: 507,
  body: 'The disk of the server is full. What has arrived is kept; make room and try again.',
}
const TOO_MANY = {
  status_code: 503,
  body: 'Too many videos are being uploaded at this moment. This one goes on by itself when others are done.',
}

/** State of an upload on disk: its data file, its JSON description, or both. */
interface Held {
  id: string
  /** Most bytes that it may become: the announced length, if there is one; null if the description is missing or damaged. */
  size: number | null
  /** Received bytes; null if the data file is missing. */
  arrived: number | null
  /** Time of the last write, milliseconds since 1970. */
  touched: number
}

/** An upload with both its files. Another one never goes on: a crash in the middle of its creation left a piece of it behind. */
type Whole = Held & { size: number; arrived: number }
const isWhole = (held: Held): held is Whole => held.size !== null && held.arrived !== null

/** Resumable uploads (tus 1.0.0). */
export class Uploads {
  private readonly tus: TusServer
  /** Accepted uploads that are not on disk yet: announced bytes, and time of acceptance. */
  private readonly beginning = new Map<string, { bytes: number; at: number }>()
  private readonly inTurn = serialQueue()

  private constructor(
    private readonly folder: string,
    private readonly mostBytes: number,
  ) {
    this.tus = new TusServer({
      path: API.uploads,
      relativeLocation: true,
      maxSize: mostBytes,
      locker: new UploadLocks(),
      datastore: new FileStore({ directory: folder, expirationPeriodInMilliseconds: WEEK }),
      namingFunction: () => randomUUID(),
      onUploadCreate: async (_request, { id, size = mostBytes }) => {
        await this.inTurn(() => this.admit(id, size))
        return {}
      },
      onResponseError: (_request, error) => {
        if ((error as { code?: string }).code === 'ENOSPC') return DISK_FULL
        if ('status_code' in error && error.status_code === 413)
          return {
            status_code: 413,
            body: `This file is larger than the ${Math.round(mostBytes / 1e6)} MB that this server takes. Cut it to the motion and try again.`,
          }
        return undefined
      },
    })
  }

  static async open(folder: string, mostBytes: number): Promise<Uploads> {
    await mkdir(folder, { recursive: true })
    await grantTraverse(folder)
    return new Uploads(folder, mostBytes)
  }

  /** Handles requests below the uploads' address. */
  readonly middleware: Middleware = async (context, next) => {
    if (context.path !== API.uploads && !context.path.startsWith(`${API.uploads}/`)) return next()
    context.respond = false
    // Koa's default status would be 404 for what is answered outside of it.
    context.res.statusCode = 200
    await this.tus.handle(context.req, context.res)
  }

  /** Accepts a new upload if the disk has room for it and for the rest of all others. Throws the tus error otherwise. */
  private async admit(id: string, size: number): Promise<void> {
    const whole = (await this.held()).filter(isWhole)
    for (const one of whole) this.beginning.delete(one.id)
    for (const [begun, { at }] of this.beginning) if (at < Date.now() - MINUTE) this.beginning.delete(begun)
    const open = whole.filter((one) => one.size !== one.arrived)
    if (open.length + this.beginning.size >= MOST_OPEN) throw TOO_MANY
    const toCome = [
      ...open.map((one) => one.size - one.arrived),
      ...[...this.beginning.values()].map(({ bytes }) => bytes),
      size,
    ].reduce((sum, bytes) => sum + bytes, 0)
    const { bavail, bsize } = await statfs(this.folder)
    if (toCome + KEPT_FREE > bavail * bsize) throw DISK_FULL
    this.beginning.set(id, { bytes: size, at: Date.now() })
  }

  /** Lists the uploads on disk. */
  private async held(): Promise<Held[]> {
    const ids = new Set((await readdir(this.folder)).map((name) => name.replace(/\.json$/, '')))
    return Promise.all(
      [...ids].map(async (id) => {
        const [part, note, size] = await Promise.all([
          stat(join(this.folder, id)).catch(() => null),
          stat(join(this.folder, `${id}.json`)).catch(() => null),
          readFile(join(this.folder, `${id}.json`), 'utf8').then(
            (description) => sizeIn(description, this.mostBytes),
            () => null,
          ),
        ])
        return {
          id,
          size,
          arrived: part?.size ?? null,
          touched: Math.max(part?.mtimeMs ?? 0, note?.mtimeMs ?? 0),
        }
      }),
    )
  }

  /** Returns the path of an upload that is complete, or null. */
  async finished(id: string): Promise<string | null> {
    const path = join(this.folder, id)
    const upload = await this.tus.datastore.getUpload(id).catch(() => null)
    const held = await stat(path).catch(() => null)
    return upload && held && upload.size === held.size ? path : null
  }

  /** Forgets an upload; its file may have been moved away. */
  async forget(id: string): Promise<void> {
    await rm(join(this.folder, id), { force: true })
    await rm(join(this.folder, `${id}.json`), { force: true })
  }

  /** Removes abandoned uploads, and fragments that a crash or a full disk left behind. */
  async sweep(now: Date): Promise<void> {
    for (const one of await this.held()) {
      const kept = !isWhole(one) ? HOUR : one.arrived === 0 ? 24 * HOUR : WEEK
      if (one.touched < now.getTime() - kept) await this.forget(one.id)
    }
  }
}

/**
 * Returns the announced length of an upload in bytes; null if its description can't be read.
 *
 * @param most what it is where none was announced
 */
function sizeIn(description: string, most: number): number | null {
  try {
    const { size } = JSON.parse(description) as { size?: unknown }
    return typeof size === 'number' ? size : most
  } catch {
    return null
  }
}
