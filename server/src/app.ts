import { randomUUID } from 'node:crypto'
import { API, type Limits } from '@apokinema/core/api'
import { bodyParser } from '@koa/bodyparser'
import Router from '@koa/router'
import Koa from 'koa'
import { isAway } from './database/database.ts'
import { footageRoutes } from './footage/routes.ts'
import { investigationRoutes } from './investigations/routes.ts'
import { pages } from './pages.ts'
import { LOCAL_PERSON } from './people.ts'
import { Problem } from './problem.ts'
import type { Room } from './room.ts'
import { headers, sameOrigin, withNonce } from './security.ts'

/** The whole application over its room: API and pages. */
export function createApp(room: Room): Koa {
  const { config, log, database } = room
  const app = new Koa({ proxy: config.trustProxy })

  app.use(async (context, next) => {
    try {
      await next()
    } catch (error) {
      const problem = problemOf(error)
      const id = randomUUID()
      // What the person is told leads to what the log says.
      if (problem.status === 503)
        log.warn({ path: context.path, id, why: (error as Error).message }, problem.code)
      else if (problem.status >= 500) log.error({ err: error, path: context.path, id }, problem.code)
      if (context.headerSent) return
      context.respond = true
      context.res.removeHeader('ETag')
      context.res.removeHeader('Cache-Control')
      context.status = problem.status
      context.body = JSON.stringify({ ...problem.answer(), instance: `urn:uuid:${id}` })
      context.type = 'application/problem+json'
      // What is left of a refused upload is not waited for.
      if (!context.req.complete) context.set('Connection', 'close')
    }
  })
  app.use(withNonce)
  app.use(headers(config))
  app.use(sameOrigin(config))
  app.use(room.uploads.middleware)
  app.use(
    bodyParser({
      enableTypes: ['json'],
      jsonLimit: '8mb',
      onError: (error) => {
        const tooLarge = (error as { status?: number }).status === 413
        throw tooLarge
          ? new Problem(413, 'too-large', 'This change is larger than the server takes. Nothing was altered.')
          : new Problem(400, 'not-json', 'The request could not be read. Nothing was altered.')
      },
    }),
  )

  const health = new Router()
  health.get(API.alive, (context) => {
    context.body = { ok: true }
  })
  health.get(API.ready, async (context) => {
    await database.raw('select 1')
    context.body = { ok: true }
  })
  health.get(API.limits, (context) => {
    const limits: Limits = {
      footageBytes: config.maxFootageBytes,
      converts: room.conversions !== null,
      person: LOCAL_PERSON,
    }
    context.body = limits
  })
  for (const router of [health, investigationRoutes(room), footageRoutes(room)]) app.use(router.routes())
  app.use(pages(config.pagesFolder))
  app.on('error', (error) => {
    // A browser that stops reading or sending a video breaks the connection; that is no fault.
    if (!['ECONNRESET', 'EPIPE', 'ERR_STREAM_PREMATURE_CLOSE', 'HPE_INVALID_EOF_STATE'].includes(error.code))
      log.error({ err: error }, 'unhandled')
  })
  return app
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
  // PostgreSQL's own code for it, too.
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
