import { once } from 'node:events'
import type { Context } from 'koa'
import send from 'send'
import { Problem } from './problem.ts'

/**
 * Chunk size in bytes, also of the file's stream. With Node's default of 64 kB a clip takes up to a third
 * longer, with 256 kB the first bytes of 50 concurrent clips take twice as long.
 */
const PARTS = { highWaterMark: 131_072 }

/**
 * Sends a file below a folder, byte ranges included (RFC 9110: Range, If-Range, 206, 416).
 * A missing file is a Problem.
 */
export async function sendFile(
  context: Context,
  folder: string,
  path: string,
  options: { type?: string; tag?: string; cache: string },
): Promise<void> {
  const { req, res } = context
  if (options.type) res.setHeader('Content-Type', options.type)
  if (options.tag) res.setHeader('ETag', `"${options.tag}"`)
  res.setHeader('Cache-Control', options.cache)
  context.status = 200
  await new Promise<void>((resolve, reject) => {
    const stream = send(req, path, {
      root: folder,
      cacheControl: false,
      index: false,
      dotfiles: 'deny',
      ...PARTS,
    })
    stream.on('error', (error: Error & { status?: number }) => {
      if (error.status === 416) {
        for (const [name, value] of Object.entries(
          (error as { headers?: Record<string, string> }).headers ?? {},
        ))
          res.setHeader(name, value)
        reject(new Problem(416, 'no-such-range', 'The video has no bytes in this range.'))
      } else reject(new Problem(404, 'not-found', 'There is nothing at this address.'))
    })
    stream.on('stream', () => {
      context.respond = false
    })
    stream.pipe(res)
    once(res, 'close').then(() => resolve(), reject)
    res.once('finish', resolve)
  })
  // A 304 and a HEAD are complete by now.
  context.respond = false
}
