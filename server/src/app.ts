import { randomUUID } from 'node:crypto'
import { API, type Limits } from '@apokinema/core/api'
import { bodyParser } from '@koa/bodyparser'
import Router from '@koa/router'
import Koa from 'koa'
import { pinoHttp } from 'pino-http'
import { isAway } from './database/database.ts'
import { footageRoutes } from './footage/routes.ts'
import { investigationRoutes } from './investigations/routes.ts'
import { pages } from './pages.ts'
import { LOCAL_PERSON } from './people.ts'
import { Problem } from './problem.ts'
import { headers, sameOrigin, withNonce } from './security.ts'
import { seriesRoutes } from './series/routes.ts'
import type { Services } from './services.ts'
import { templateRoutes } from './templates/routes.ts'

/** Returns the whole application: API and pages. */
export function createApp(services: Services): Koa {
  const { config, log } = services
  const app = new Koa({ proxy: config.trustProxy })
  const logged = pinoHttp({
    logger: log,
    genReqId: () => randomUUID(),
    // Only the request line and the time: nothing personal.
    serializers: {
      req: ({ id, method, url }) => ({ id, method, url }),
      res: ({ statusCode }) => ({ statusCode }),
    },
    customLogLevel: (_request, { statusCode }) =>
      statusCode === 503 ? 'warn' : statusCode >= 500 ? 'error' : 'info',
  })

  app.use(async (context, next) => {
    logged(context.req, context.res)
    try {
      await next()
    } catch (error) {
      const problem = problemOf(error)
      // The log line of this request states the reason.
      if (context.headerSent || context.res.destroyed) return
      if (problem.status >= 500) context.res.err = error as Error
      context.respond = true
      context.res.removeHeader('ETag')
      context.res.removeHeader('Cache-Control')
      context.status = problem.status
      context.body = JSON.stringify({ ...problem.answer(), instance: `urn:uuid:${context.req.id}` })
      context.type = 'application/problem+json'
      // The rest of a refused upload is not read.
      if (!context.req.complete) context.set('Connection', 'close')
    }
  })
  app.use(withNonce)
  app.use(headers(config))
  app.use(sameOrigin(config))
  app.use(services.uploads.middleware)
  app.use(bodyWithin(config.bodySeconds))
  app.use(
    bodyParser({
      enableTypes: ['text'],
      extendTypes: { text: ['application/json'] },
      textLimit: '8mb',
      onError: (error) => {
        const tooLarge = (error as { status?: number }).status === 413
        throw tooLarge
          ? new Problem(413, 'too-large', 'This change is larger than the server takes. Nothing was altered.')
          : notJson()
      },
    }),
  )
  app.use(jsonBody(services))
  for (const router of [
    healthRoutes(services),
    investigationRoutes(services),
    seriesRoutes(services),
    footageRoutes(services),
    templateRoutes(services),
  ])
    app.use(router.routes())
  app.use(pages(config.pagesFolder))
  app.on('error', (error) => {
    // A broken connection while a video is sent or received is no error.
    if (!['ECONNRESET', 'EPIPE', 'ERR_STREAM_PREMATURE_CLOSE', 'HPE_INVALID_EOF_STATE'].includes(error.code))
      log.error({ err: error }, 'unhandled')
  })
  return app
}

/** Parses a JSON body on another thread: a large one does not keep other requests waiting. */
function jsonBody({ workers }: Services): Koa.Middleware {
  return async (context, next) => {
    const text = context.request.body as unknown
    context.request.body = undefined
    if (typeof text === 'string' && context.is('application/json'))
      context.request.body = await workers.parse(text).catch((error) => {
        throw error instanceof SyntaxError ? notJson() : error
      })
    await next()
  }
}

/** Routes for monitoring, and for the server's limits. */
function healthRoutes({ config, database, conversions }: Services): Router {
  const router = new Router()
  router.get(API.alive, (context) => {
    context.body = { ok: true }
  })
  router.get(API.ready, async (context) => {
    await database.raw('select 1')
    context.body = { ok: true }
  })
  router.get(API.limits, (context) => {
    const limits: Limits = {
      footageBytes: config.maxFootageBytes,
      converts: conversions !== null,
      person: LOCAL_PERSON,
    }
    context.body = limits
  })
  return router
}

const notJson = () => new Problem(400, 'not-json', 'The request could not be read. Nothing was altered.')

/** Ends a request whose body has not arrived in time; uploads are exempt. */
function bodyWithin(seconds: number): Koa.Middleware {
  return async (context, next) => {
    if (context.req.complete) return next()
    let timer: NodeJS.Timeout | undefined
    const late = new Promise<never>((_, reject) => {
      timer = setTimeout(() => {
        if (!context.req.complete)
          reject(new Problem(408, 'too-slow', 'The request did not arrive in time. Nothing was altered.'))
      }, seconds * 1000)
    })
    try {
      await Promise.race([next(), late])
    } finally {
      clearTimeout(timer)
    }
  }
}

function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error
  if (isAway(error))
    return new Problem(
      503,
      'database-away',
      'The database does not answer. Your work is kept in this browser and sent later.',
    )
  const { code } = error as { code?: string }
  // Also PostgreSQL's code for a full disk.
  if (code === 'ENOSPC' || code === '53100')
    return new Problem(
      507,
      'disk-full',
      'The disk of the server is full. Nothing half-made was kept; your work is safe.',
    )
  if (code === 'ERR_STREAM_PREMATURE_CLOSE' || code === 'ECONNRESET')
    return new Problem(
      400,
      'upload-broke',
      'The upload broke off before its end. Nothing half-made was kept.',
    )
  return new Problem(500, 'fault', 'Something went wrong on the server. Nothing was altered; try again.')
}
