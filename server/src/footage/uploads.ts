import { randomUUID } from 'node:crypto'
import { mkdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { API } from '@apokinema/core/api'
import { FileStore } from '@tus/file-store'
import { Server as TusServer } from '@tus/server'
import type { Middleware } from 'koa'

/** An upload that nobody went on with for so long is forgotten. */
const WEEK = 7 * 86_400_000

/** Resumable uploads (tus 1.0.0): what has arrived stays, and an upload goes on where it broke off. */
export class Uploads {
  private readonly tus: TusServer

  constructor(
    private readonly folder: string,
    mostBytes: number,
  ) {
    this.tus = new TusServer({
      path: API.uploads,
      relativeLocation: true,
      maxSize: mostBytes,
      datastore: new FileStore({ directory: folder, expirationPeriodInMilliseconds: WEEK }),
      namingFunction: () => randomUUID(),
      onResponseError: (_request, error) => {
        if ((error as { code?: string }).code === 'ENOSPC')
          return {
            status_code: 507,
            body: 'The disk of the server is full. What has arrived is kept; make room and try again.',
          }
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
    return new Uploads(folder, mostBytes)
  }

  /** Answers what lies below the uploads' address. */
  readonly middleware: Middleware = async (context, next) => {
    if (context.path !== API.uploads && !context.path.startsWith(`${API.uploads}/`)) return next()
    context.respond = false
    // Koa's own default would say "not found" of what is answered past it.
    context.res.statusCode = 200
    await this.tus.handle(context.req, context.res)
  }

  /** Path of an upload that is complete, or null. */
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

  /** Removes uploads that nobody went on with. */
  async sweep(): Promise<void> {
    await this.tus.cleanUpExpiredUploads()
  }
}
