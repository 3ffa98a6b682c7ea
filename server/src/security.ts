import { randomBytes } from 'node:crypto'
import { isIP } from 'node:net'
import type { Middleware } from 'koa'
import helmet from 'koa-helmet'
import type { Config } from './config.ts'
import { isLoopback } from './config.ts'
import { Problem } from './problem.ts'

/** Nonces by Node's response object, which is all that the header's builder receives. */
const nonces = new WeakMap<object, string>()

/** Sets a fresh nonce for every response; only scripts of the page that carry it run. */
export const withNonce: Middleware = async (context, next) => {
  const nonce = randomBytes(18).toString('base64')
  context.state.nonce = nonce
  nonces.set(context.res, nonce)
  await next()
}

/** Security headers. */
export function headers(config: Config): Middleware {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'", runBy],
        styleSrc: ["'self'", nonceOf],
        imgSrc: ["'self'", 'blob:', 'data:'],
        mediaSrc: ["'self'", 'blob:'],
        connectSrc: ["'self'"],
        fontSrc: ["'self'"],
        workerSrc: ["'self'"],
        objectSrc: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    },
    strictTransportSecurity: config.tls !== null || (config.publicOrigin?.startsWith('https:') ?? false),
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    referrerPolicy: { policy: 'no-referrer' },
  }) as Middleware
}

const nonceOf = (_request: unknown, response: object) => `'nonce-${nonces.get(response)}'`

/**
 * Returns the sources of scripts besides own files: on pages the nonce, in workers, whose files have a policy of
 * their own, compiled kernels.
 */
const runBy = (request: { url?: string | undefined }, response: object) =>
  request.url?.startsWith('/assets/') ? "'wasm-unsafe-eval'" : nonceOf(request, response)

/**
 * Same origin only: writing requests must state this origin, and the server answers only to its own
 * names, so that a foreign page can't reach it by a name that resolves to it. An address is no such name.
 */
export function sameOrigin({ host: listensOn, allowedNames, publicOrigin }: Config): Middleware {
  const names = new Set(allowedNames)
  if (publicOrigin) names.add(new URL(publicOrigin).hostname)
  return async (context, next) => {
    const name = context.host
      .replace(/:\d+$/, '')
      .replace(/^\[|\]$/g, '')
      .toLowerCase()
    const isOwn = isLoopback(name) || names.has(name) || (!isLoopback(listensOn) && isIP(name) !== 0)
    if (!isOwn)
      throw new Problem(
        421,
        'other-name',
        'This server does not answer under this name. Whoever runs it can allow it: ALLOWED_HOSTS.',
      )
    if (!['GET', 'HEAD', 'OPTIONS'].includes(context.method)) {
      const origin = context.get('Origin')
      if (origin !== `${context.protocol}://${context.host}` && origin !== publicOrigin)
        throw new Problem(403, 'other-origin', 'Changes are taken from the pages of this site only.')
    }
    await next()
  }
}
