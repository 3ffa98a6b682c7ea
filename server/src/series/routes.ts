import { API, MOST_TRIALS_AT_ONCE, type TrialEditAnswers } from '@apokinema/core/api'
import { readSeries } from '@apokinema/core/series'
import Router from '@koa/router'
import { array, object } from 'yup'
import { documentProblem } from '../documentProblem.ts'
import { sendPackedSeries } from '../investigations/packing.ts'
import { checked, editOf, idField, uuidOf } from '../investigations/routes.ts'
import { LOCAL_PERSON } from '../people.ts'
import { notFound, Problem } from '../problem.ts'
import type { Services } from '../services.ts'
import { stringifyInSteps } from '../workers/chunks.ts'

const newRequest = object({ id: idField, document: object().required() }).noUnknown().strict()

/** Edits of trials without what they change, which is checked by itself. */
const trialEdits = array(object({ id: idField }))
  .required()
  .min(1)
  .max(MOST_TRIALS_AT_ONCE)

/** Routes of series, their edits and their trials. */
export function seriesRoutes(services: Services): Router {
  const { series, investigations } = services
  const router = new Router()

  router.get(API.allSeries, async (context) => {
    context.body = await series.list(LOCAL_PERSON, context.query.deleted === 'true')
  })

  router.post(API.allSeries, async (context) => {
    const { id, document } = checked(() => newRequest.validateSync(context.request.body, { strict: true }))
    await series.create(LOCAL_PERSON, id, readNew(document))
    context.status = 201
    context.body = await series.open(LOCAL_PERSON, id)
  })

  router.get(API.series(':id'), async (context) => {
    context.body = await series.open(LOCAL_PERSON, uuidOf(context.params.id))
  })

  router.post(API.seriesEdits(':id'), async (context) => {
    context.body = await series.edit(LOCAL_PERSON, uuidOf(context.params.id), editOf(context.request.body))
  })

  /** The investigations that are named by `ids`, separated by commas; those that can't be read are left out. */
  router.get(API.trials(':id'), async (context) => {
    const known = new Set(await series.trials(LOCAL_PERSON, uuidOf(context.params.id)))
    const asked = String(context.query.ids ?? '')
      .split(',')
      .filter((id) => known.has(id))
    if (asked.length > MOST_TRIALS_AT_ONCE)
      throw new Problem(422, 'too-many-trials', `At most ${MOST_TRIALS_AT_ONCE} trials are sent at a time.`)
    const opened = await Promise.all(
      asked.map((id) =>
        investigations.open(LOCAL_PERSON, id).catch((error) => {
          if (error instanceof Problem) return null
          throw error
        }),
      ),
    )
    context.body = await stringifyInSteps(opened.filter((one) => one !== null))
    context.type = 'application/json'
  })

  /** Each edit is made or refused by itself, as if it had come alone. */
  router.post(API.trialEdits(':id'), async (context) => {
    const known = new Set(await series.trials(LOCAL_PERSON, uuidOf(context.params.id)))
    const body = context.request.body as object[]
    const ids = checked(() => trialEdits.validateSync(body, { strict: true })).map(({ id }) => id)
    const answers: TrialEditAnswers = await Promise.all(
      body.map(async (one, i) => {
        try {
          if (!known.has(ids[i])) throw notFound()
          return await investigations.edit(LOCAL_PERSON, ids[i], editOf(one))
        } catch (error) {
          if (error instanceof Problem) return error.answer()
          throw error
        }
      }),
    )
    context.body = answers
  })

  router.get(API.packedSeries(':id'), async (context) => {
    sendPackedSeries(context, services, await series.open(LOCAL_PERSON, uuidOf(context.params.id)))
  })

  router.get(API.seriesOf(':id'), async (context) => {
    const of = await series.of(LOCAL_PERSON, uuidOf(context.params.id))
    context.body = JSON.stringify(of)
    context.type = 'application/json'
  })

  router.delete(API.series(':id'), async (context) => {
    await series.remove(LOCAL_PERSON, uuidOf(context.params.id))
    context.status = 204
  })

  router.post(API.seriesRestored(':id'), async (context) => {
    await series.restore(LOCAL_PERSON, uuidOf(context.params.id))
    context.status = 204
  })

  return router
}

/** Returns a series from elsewhere; an invalid or newer one is a Problem. */
function readNew(document: unknown) {
  try {
    return readSeries(document)
  } catch (error) {
    throw documentProblem(
      error,
      (why) => new Problem(422, 'document-refused', `This is no series: ${why}. Nothing was kept.`),
    )
  }
}
