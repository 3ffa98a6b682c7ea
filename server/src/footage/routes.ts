import { API, FOOTAGE_KINDS, type FootageKind } from '@apokinema/core/api'
import Router from '@koa/router'
import type { Context } from 'koa'
import { object, string } from 'yup'
import { checked, uuidOf } from '../investigations/routes.ts'
import { type Action, LOCAL_PERSON } from '../people.ts'
import { Problem } from '../problem.ts'
import { sendFile } from '../sendFile.ts'
import type { Services } from '../services.ts'
import { OTHER_TYPE, pathOf, posterPathOf, typeOf } from './blobStore.ts'
import { findFootage, linkFootage, permittedFootage, storeFile } from './links.ts'

const missing = () => new Problem(404, 'no-footage', 'This investigation has no such footage on the server.')

const noTools = () =>
  new Problem(
    501,
    'no-converter',
    'This server can’t convert videos: ffmpeg is missing on it. Install it (sudo apt-get install ffmpeg) and start Apokinema again.',
  )

const footageRequest = object({
  upload: string().strict().required().uuid(),
  sha256: string()
    .strict()
    .required()
    .matches(/^[0-9a-f]{64}$/),
  name: string().strict().required().max(255),
  kind: string().strict().required().oneOf(FOOTAGE_KINDS),
  rate: string()
    .strict()
    .matches(/^\d{1,5}(\.\d{1,4})?$/)
    .test('positive', '${path} must be above 0', (rate) => rate === undefined || Number(rate) > 0),
}).noUnknown()

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

/**
 * Routes of footage: it goes in and comes out through the investigation that has it, and no other way. Over 80 lines as a list
 * of independent handlers, one a route.
 */
export function footageRoutes({
  investigations,
  blobs,
  database,
  samples,
  uploads,
  conversions,
}: Services): Router {
  const router = new Router()
  const linked = async (context: Context & { params: Record<string, string> }, action: Action = 'see') => {
    const investigation = uuidOf(context.params.id)
    const id = uuidOf(context.params.footage)
    const footage = await permittedFootage(database, LOCAL_PERSON, action, { investigation, id })
    if (!footage) throw missing()
    return footage
  }

  const measure = async (path: string, kind: FootageKind, sha256: string) => {
    if ((await typeOf(path)) === OTHER_TYPE && kind === 'as-it-is')
      throw new Problem(
        415,
        'not-footage',
        'This file is not an MP4, MOV, WebM or MKV video. Nothing of it was kept.',
      )
    return blobs.measure(path, sha256)
  }

  const isKnown = async (investigation: string, id: string) =>
    (await findFootage(database, investigation, id)) !== undefined ||
    (await database('conversions').where({ investigation_id: investigation, id }).first('id')) !== undefined

  router.put(API.footage(':id', ':footage'), async (context) => {
    const investigation = uuidOf(context.params.id)
    const id = uuidOf(context.params.footage)
    await investigations.row(LOCAL_PERSON, 'change', investigation)
    const { upload, sha256, name, kind, rate } = checked(() =>
      footageRequest.validateSync(context.request.body, { strict: true }),
    )
    context.status = 201
    context.body = { sha256 }
    // A repeated request, after a lost answer, finds its work done.
    const path = await uploads.finished(upload)
    if (!path) {
      if (await isKnown(investigation, id)) return
      throw new Problem(404, 'no-upload', 'This upload is not complete, or too old. It is begun anew.')
    }
    if (kind !== 'as-it-is' && !conversions) throw noTools()
    const file = await measure(path, kind, sha256).catch(async (error) => {
      // An empty, corrupted or unusable file is discarded.
      if (error instanceof Problem) await uploads.forget(upload)
      throw error
    })
    if (kind === 'as-it-is')
      await storeFile(database, blobs, path, file, (on) =>
        linkFootage(on, { investigation, id, sha256, hasPoster: false }),
      )
    else await conversions!.request({ id, investigation, name, kind, rate: rate ?? null }, path, file)
    await uploads.forget(upload)
  })

  router.get(API.footage(':id', ':footage'), async (context) => {
    const { sha256, type } = await linked(context)
    await sendFile(context, blobs.root, pathOf(sha256), {
      type,
      tag: sha256,
      cache: 'private, no-cache',
    })
  })

  router.get(API.conversion(':id'), async (context) => {
    const id = uuidOf(context.params.id)
    await investigations.row(LOCAL_PERSON, 'see', id)
    context.body = JSON.stringify((await conversions?.of(id)) ?? null)
    context.type = 'application/json'
  })

  router.post(API.conversion(':id'), async (context) => {
    const id = uuidOf(context.params.id)
    await investigations.row(LOCAL_PERSON, 'change', id)
    if (!conversions) throw noTools()
    await conversions.again(id)
    context.status = 204
  })

  router.delete(API.conversion(':id'), async (context) => {
    const id = uuidOf(context.params.id)
    await investigations.row(LOCAL_PERSON, 'change', id)
    await conversions?.cancel(id)
    context.status = 204
  })

  router.put(API.poster(':id', ':footage'), async (context) => {
    const { sha256 } = await linked(context, 'change')
    await blobs.storePoster(sha256, await bytesOf(context, 400_000))
    await database('footage').where({ sha256 }).update({ has_poster: true })
    context.status = 204
  })

  router.get(API.poster(':id', ':footage'), async (context) => {
    const { sha256, has_poster } = await linked(context)
    if (!has_poster) throw missing()
    const path = posterPathOf(sha256)
    await sendFile(context, blobs.root, path, { type: 'image/jpeg', cache: 'private, max-age=86400' })
  })

  router.get(API.samplePoster(':sample'), async (context) => {
    const { folder } = samples.find(context.params.sample)
    await sendFile(context, folder, 'poster.jpg', { type: 'image/jpeg', cache: 'private, max-age=86400' })
  })

  return router
}
