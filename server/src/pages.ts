import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Context, Middleware } from 'koa'
import { Problem } from './problem.ts'
import { sendFile } from './sendFile.ts'

/** Placeholder of the nonce in the built page. */
const NONCE_PLACE = '__NONCE__'

/**
 * Serves the built pages: files below /assets never change under their name; every other address is the
 * page, with this response's nonce.
 */
export function pages(folder: string): Middleware {
  return async (context: Context) => {
    if (context.method !== 'GET' && context.method !== 'HEAD')
      throw new Problem(405, 'not-allowed', 'This address can only be read.')
    if (context.path.startsWith('/api/'))
      throw new Problem(404, 'not-found', 'There is nothing at this address.')
    if (context.path.startsWith('/assets/')) {
      await sendFile(context, folder, context.path, { cache: 'public, max-age=31536000, immutable' })
      return
    }
    if (/^\/[\w-]+\.(svg|png|ico|txt|webmanifest)$/.test(context.path)) {
      await sendFile(context, folder, context.path, { cache: 'public, max-age=3600' })
      return
    }
    const page = await readFile(join(folder, 'index.html'), 'utf8').catch(() => {
      throw new Problem(503, 'no-pages', 'The pages have not been built yet. Start with npm start.')
    })
    context.type = 'html'
    context.set('Cache-Control', 'no-store')
    context.body = page.replaceAll(NONCE_PLACE, context.state.nonce)
  }
}
