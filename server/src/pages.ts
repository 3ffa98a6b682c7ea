import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Context, Middleware } from 'koa'
import { Problem } from './problem.ts'
import { sendFile } from './sendFile.ts'

/** Placeholder of the nonce in the built page. */
const NONCE_PLACE = '__NONCE__'

/** The files that each kind of address needs beside those of every page, as `web/preloads.ts` writes them. */
type Preloads = Record<string, string[]>

/** Returns the files that an address needs: for its kind with its view, or else for its kind alone. */
function preloadsFor(path: string, preloads: Preloads): string[] {
  const [, kind, id, view] = path.split('/')
  const found = [`${kind}/${view}`, kind].find((name) => id && Object.hasOwn(preloads, name))
  return found ? preloads[found] : []
}

/**
 * Serves the built pages: files below /assets never change under their name; every other address is the
 * page, with this response's nonce, and with links to the code that this address needs.
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
    const preloads = await readFile(join(folder, 'preloads.json'), 'utf8').catch(() => '{}')
    const links = preloadsFor(context.path, JSON.parse(preloads) as Preloads).map(
      (file) => `<link rel="modulepreload" crossorigin href="${file}" nonce="${NONCE_PLACE}">`,
    )
    context.type = 'html'
    context.set('Cache-Control', 'no-store')
    context.body = page
      .replace('</head>', () => `${links.join('')}</head>`)
      .replaceAll(NONCE_PLACE, context.state.nonce)
  }
}
