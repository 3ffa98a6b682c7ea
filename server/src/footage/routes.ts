import { API } from '@apokinema/core/api'
import Router from '@koa/router'
import type { Context } from 'koa'
import { uuidOf } from '../investigations/routes.ts'
import { LOCAL_PERSON } from '../people.ts'
import { Problem } from '../problem.ts'
import type { Room } from '../room.ts'
import { sendFile } from '../sendFile.ts'
import { findFootage, linkFootage } from './links.ts'
import { findSample } from './samples.ts'

const missing = () => new Problem(404, 'no-footage', 'This investigation has no such footage on the server.')

async function bytesOf(context: Context, most: number): Promise<Buffer> {
  const parts: Buffer[] = []
  let size = 0
  for await (const part of context.req as AsyncIterable<Buffer>) {
    size += part.length
    if (size > most) throw new Problem(413, 'too-large', 'This picture is too large.')
    parts.push(part)
  }
  return Buffer.concat(parts)
}

/** Routes of footage: it goes in and comes out through the investigation that has it, and no other way. */
export function footageRoutes({ investigations, vault, database, samples }: Room): Router {
  const router = new Router()
  const linked = async (context: Context & { params: Record<string, string> }) => {
    const id = uuidOf(context.params.id)
    await investigations.row(LOCAL_PERSON, 'see', id)
    const footage = await findFootage(database, id, uuidOf(context.params.footage))
    if (!footage) throw missing()
    return footage
  }

  router.put(API.footage(':id', ':footage'), async (context) => {
    const investigation = uuidOf(context.params.id)
    const id = uuidOf(context.params.footage)
    await investigations.row(LOCAL_PERSON, 'change', investigation)
    const file = await vault.store(context.req, context.request.length)
    await linkFootage(database, { investigation, id, file, hasPoster: false })
    context.status = 201
    context.body = { sha256: file.sha256, size: file.size }
  })

  router.get(API.footage(':id', ':footage'), async (context) => {
    const { sha256, type } = await linked(context)
    await sendFile(context, vault.root, vault.pathOf(sha256), {
      type,
      tag: sha256,
      cache: 'private, no-cache',
    })
  })

  router.put(API.poster(':id', ':footage'), async (context) => {
    const { sha256 } = await linked(context)
    await vault.storePoster(sha256, await bytesOf(context, 400_000))
    await database('footage').where({ sha256 }).update({ has_poster: true })
    context.status = 204
  })

  router.get(API.poster(':id', ':footage'), async (context) => {
    const { sha256, has_poster } = await linked(context)
    if (!has_poster) throw missing()
    const path = `${vault.pathOf(sha256)}.poster.jpg`
    await sendFile(context, vault.root, path, { type: 'image/jpeg', cache: 'private, max-age=86400' })
  })

  router.get(API.samplePoster(':sample'), async (context) => {
    const { folder } = findSample(samples, context.params.sample)
    await sendFile(context, folder, 'poster.jpg', { type: 'image/jpeg', cache: 'private, max-age=86400' })
  })

  return router
}
