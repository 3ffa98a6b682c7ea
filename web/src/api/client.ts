import {
  API,
  type ConversionAnswer,
  type EditAnswer,
  type EditRequest,
  type FootageRequest,
  type Limits,
  type ListedInvestigations,
  type ListedSamples,
  type ListedSeries,
  type ListedTemplate,
  type NewInvestigationRequest,
  type NewSeriesRequest,
  type OpenedInvestigation,
  type OpenedSeries,
  type ProblemAnswer,
  type SeriesOf,
  type TrialEditAnswers,
  type TrialEditRequest,
} from '@apokinema/core/api'
import { type ReportTemplate, readTemplate } from '@apokinema/core/report'

/** The server refused the request. `message` is for people. */
export class RefusedError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    detail: string,
  ) {
    super(detail)
  }
}

/**
 * The server can't handle the request now; a later try may succeed.
 *
 * - unreachable: no answer, or Apokinema answers that it is not ready.
 * - stranger: something else answers instead, such as a sign-in page or a proxy.
 * - fault: an error in Apokinema.
 */
export class AwayError extends Error {
  constructor(
    message: string,
    readonly kind: 'unreachable' | 'stranger' | 'fault' = 'unreachable',
  ) {
    super(message)
  }
}

const stranger = (status: number) =>
  new AwayError(
    `Something else answers in the place of Apokinema (${status}), perhaps a page to sign in at.`,
    'stranger',
  )

async function refusalOf(answer: Response): Promise<Error> {
  const problem = (await answer.json().catch(() => null)) as ProblemAnswer | null
  // Only a refusal with a code of Apokinema's own counts as one.
  if (typeof problem?.code !== 'string' || typeof problem.detail !== 'string') {
    return answer.status >= 500
      ? new AwayError(`The server can’t work just now (${answer.status}).`)
      : stranger(answer.status)
  }
  if (problem.code === 'fault') return new AwayError(problem.detail, 'fault')
  if (answer.status >= 500 && answer.status !== 507) return new AwayError(problem.detail)
  return new RefusedError(answer.status, problem.code, problem.detail)
}

async function request(method: string, path: string, body?: unknown): Promise<Response> {
  let answer: Response
  try {
    answer = await fetch(path, {
      method,
      ...(body === undefined
        ? {}
        : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    })
  } catch {
    throw new AwayError('The server cannot be reached.')
  }
  if (!answer.ok) throw await refusalOf(answer)
  return answer
}

/** @param fits returns true for the expected answer: a sign-in page can also come with status 200 */
async function json<T>(answering: Promise<Response>, fits: (body: T) => boolean = () => true): Promise<T> {
  const answer = await answering
  const body = (await answer.json().catch(() => undefined)) as T | undefined
  if (body === undefined || !fits(body)) throw stranger(answer.status)
  return body
}

const isOpened = (body: { version: number; document: object }) =>
  Number.isSafeInteger(body?.version) && typeof body.document === 'object' && body.document !== null
const isAnswer = (body: EditAnswer) =>
  Number.isSafeInteger(body?.version) && Array.isArray(body.since) && typeof body.updatedAt === 'string'

/** The server's API. Every call rejects with an AwayError or a RefusedError. */
export const client = {
  limits: () => json<Limits>(request('GET', API.limits)),
  samples: () => json<ListedSamples>(request('GET', API.samples)),
  templates: () => json<ListedTemplate[]>(request('GET', API.templates), Array.isArray),
  template: async (id: string) => readTemplate(await json<unknown>(request('GET', API.template(id)))),
  keepTemplate: (id: string, template: ReportTemplate) => request('PUT', API.template(id), template),
  removeTemplate: (id: string) => request('DELETE', API.template(id)),
  /** @param after `next` of the page before; null for the first */
  list: (after: string | null, deleted = false) =>
    json<ListedInvestigations>(
      request(
        'GET',
        `${API.investigations}?${new URLSearchParams({ ...(deleted && { deleted: 'true' }), ...(after && { after }) })}`,
      ),
    ),
  open: (id: string) => json<OpenedInvestigation>(request('GET', API.investigation(id)), isOpened),
  create: (body: NewInvestigationRequest) =>
    json<OpenedInvestigation>(request('POST', API.investigations, body)),
  /** @param readable copies the last readable state if the newest one can't be read */
  copy: (id: string, copy: string, readable = false) =>
    json<OpenedInvestigation>(request('POST', API.copies(id), { id: copy, readable })),
  remove: (id: string) => request('DELETE', API.investigation(id)),
  restore: (id: string) => request('POST', API.restored(id)),
  edit: (id: string, body: EditRequest) => json<EditAnswer>(request('POST', API.edits(id), body), isAnswer),
  allSeries: (deleted = false) =>
    json<ListedSeries[]>(
      request('GET', deleted ? `${API.allSeries}?deleted=true` : API.allSeries),
      Array.isArray,
    ),
  openSeries: (id: string) => json<OpenedSeries>(request('GET', API.series(id)), isOpened),
  seriesOf: (id: string) => json<SeriesOf | null>(request('GET', API.seriesOf(id))),
  createSeries: (body: NewSeriesRequest) =>
    json<OpenedSeries>(request('POST', API.allSeries, body), isOpened),
  editSeries: (id: string, body: EditRequest) =>
    json<EditAnswer>(request('POST', API.seriesEdits(id), body), isAnswer),
  removeSeries: (id: string) => request('DELETE', API.series(id)),
  restoreSeries: (id: string) => request('POST', API.seriesRestored(id)),
  /** Returns those of these trials that can be read. */
  trials: (id: string, ids: string[]) =>
    json<OpenedInvestigation[]>(request('GET', `${API.trials(id)}?ids=${ids.join(',')}`), Array.isArray),
  /** Changes at most MOST_TRIALS_AT_ONCE trials, each by itself. */
  editTrials: (id: string, edits: TrialEditRequest[]) =>
    json<TrialEditAnswers>(
      request('POST', API.trialEdits(id), edits),
      (body) => Array.isArray(body) && body.length === edits.length,
    ),
  takeFootage: (id: string, footage: string, body: FootageRequest) =>
    request('PUT', API.footage(id, footage), body),
  conversion: (id: string) => json<ConversionAnswer | null>(request('GET', API.conversion(id))),
  convertAgain: (id: string) => request('POST', API.conversion(id)),
  cancelConversion: (id: string) => request('DELETE', API.conversion(id)),
}

/** Sends a small file; larger ones are uploaded resumably. */
export async function upload(path: string, body: Blob): Promise<void> {
  let answer: Response
  try {
    answer = await fetch(path, { method: 'PUT', body })
  } catch {
    throw new AwayError('The server cannot be reached.')
  }
  if (!answer.ok) throw await refusalOf(answer)
}
