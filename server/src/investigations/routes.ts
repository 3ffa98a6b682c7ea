import { randomUUID } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { API, type EditRequest, type NewInvestigationRequest } from '@apokinema/core/api'
import {
  checkPatch,
  edit,
  edits,
  type Investigation,
  isOneLine,
  newInvestigation,
  readInvestigationInSteps,
} from '@apokinema/core/investigation'
import Router from '@koa/router'
import type { Context } from 'koa'
import { boolean, number, object, string, ValidationError } from 'yup'
import { documentProblem } from '../documentProblem.ts'
import { linkFootage, storeFile } from '../footage/links.ts'
import { LOCAL_PERSON } from '../people.ts'
import { editRefused, Problem } from '../problem.ts'
import type { Services } from '../services.ts'
import { pause, stringifyInSteps } from '../workers/chunks.ts'
import { packableOf, sendPacked } from './packing.ts'

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/

/** Returns an id from a path or a body; anything but a UUID is answered with 404. */
export function uuidOf(text: unknown): string {
  if (typeof text !== 'string' || !UUID.test(text))
    throw new Problem(404, 'not-found', 'There is nothing at this address.')
  return text
}

/** Returns a request body checked against its schema; errors become a Problem with their message. */
export function checked<T>(check: () => T): T {
  try {
    return check()
  } catch (error) {
    if (error instanceof ValidationError || error instanceof RangeError) throw editRefused(error.message)
    throw error
  }
}

/** An id in the body of a request. */
export const idField = string().strict().required().matches(UUID, '${path} must be a UUID')
const newRequest = object({
  id: idField,
  title: string()
    .strict()
    .required()
    .max(200)
    .test('one-line', 'title must be one line of text', (title) => isOneLine(title)),
  sample: string().strict().max(60),
  document: object().strict().optional().default(undefined),
})
  .noUnknown()
  .strict()
/** readable: copies the last readable state if the newest one can't be read. */
const copyRequest = object({ id: idField, readable: boolean().strict().default(false) })
/** An edit without its patch, which is checked by itself. */
const editRequest = object({ key: idField, base: number().strict().required().integer().min(1) })

/** Returns the edit in the body of a request, checked. */
export const editOf = (body: unknown): EditRequest =>
  checked(() => {
    const { key, base } = editRequest.validateSync(body, { strict: true })
    return { key, base, patch: checkPatch((body as EditRequest).patch) }
  })

/** Returns a document from elsewhere, upgraded; an invalid or newer one is a Problem. */
async function read(document: unknown): Promise<Investigation> {
  try {
    return await readInvestigationInSteps(document, pause)
  } catch (error) {
    throw documentProblem(
      error,
      (why) => new Problem(422, 'document-refused', `This is no investigation: ${why}. Nothing was kept.`),
    )
  }
}

/** Routes of investigations and their edits. Over 80 lines as a list of independent handlers, one a route. */
export function investigationRoutes({ investigations, samples, blobs, database, workers }: Services): Router {
  const router = new Router()
  const answerWith = async (context: Context, id: string) => {
    context.body = await stringifyInSteps(await investigations.open(LOCAL_PERSON, id))
    context.type = 'application/json'
  }

  router.get(API.samples, (context) => {
    context.body = samples.list()
  })

  router.get(API.investigations, async (context) => {
    const { deleted, after } = context.query
    context.body = await investigations.list(LOCAL_PERSON, {
      deleted: deleted === 'true',
      after: typeof after === 'string' ? after : undefined,
    })
  })

  router.post(API.investigations, async (context) => {
    const request: NewInvestigationRequest = checked(
      () => newRequest.validateSync(context.request.body, { strict: true }) as NewInvestigationRequest,
    )
    const blank = newInvestigation(request.title)
    if (request.sample === undefined) {
      const document = request.document === undefined ? blank : await read(request.document)
      await investigations.create(LOCAL_PERSON, request.id, { ...document, title: request.title })
    } else {
      const sample = samples.find(request.sample)
      const footageId = randomUUID()
      const path = await blobs.copyAside(join(sample.folder, 'footage.mp4'))
      const file = await blobs.measure(path)
      const { document } = edit(blank, edits.setFootage({ id: footageId, ...sample.footage }))
      await storeFile(database, blobs, path, file, async (on) => {
        await investigations.create(LOCAL_PERSON, request.id, document, on)
        await linkFootage(on, {
          investigation: request.id,
          id: footageId,
          sha256: file.sha256,
          hasPoster: true,
        })
      })
      await blobs.storePoster(file.sha256, await readFile(join(sample.folder, 'poster.jpg')))
    }
    context.status = 201
    await answerWith(context, request.id)
  })

  router.get(API.investigation(':id'), async (context) => {
    await answerWith(context, uuidOf(context.params.id))
  })

  router.get(API.packed(':id'), async (context) => {
    const id = uuidOf(context.params.id)
    await sendPacked(context, workers, await packableOf({ investigations, database, blobs }, id))
  })

  router.get(API.stored(':id'), async (context) => {
    const id = uuidOf(context.params.id)
    const stored = await investigations.stored(LOCAL_PERSON, id)
    context.set('Content-Disposition', `attachment; filename="${id}.json"`)
    context.body = await stringifyInSteps(stored)
    context.type = 'application/json'
  })

  router.delete(API.investigation(':id'), async (context) => {
    await investigations.remove(LOCAL_PERSON, uuidOf(context.params.id))
    context.status = 204
  })

  router.post(API.restored(':id'), async (context) => {
    await investigations.restore(LOCAL_PERSON, uuidOf(context.params.id))
    context.status = 204
  })

  router.post(API.copies(':id'), async (context) => {
    const copy = checked(() => copyRequest.validateSync(context.request.body, { strict: true }))
    const from = uuidOf(context.params.id)
    if (copy.readable) await investigations.copyReadable(LOCAL_PERSON, from, copy.id)
    else await investigations.copy(LOCAL_PERSON, from, copy.id)
    context.status = 201
    await answerWith(context, copy.id)
  })

  router.post(API.edits(':id'), async (context) => {
    context.body = await investigations.edit(
      LOCAL_PERSON,
      uuidOf(context.params.id),
      editOf(context.request.body),
    )
  })

  return router
}
