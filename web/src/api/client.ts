import {
  API,
  type ConversionAnswer,
  type EditAnswer,
  type EditRequest,
  type FootageRequest,
  type Limits,
  type ListedInvestigation,
  type ListedSample,
  type NewInvestigationRequest,
  type OpenedInvestigation,
  type ProblemAnswer,
} from '@apokinema/core/api'

/** The server answered and said no. `message` is for people. */
export class RefusedError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    detail: string,
  ) {
    super(detail)
  }
}

/** The server could not be reached, or not work for now. Trying again later may help. */
export class AwayError extends Error {}

async function refusalOf(answer: Response): Promise<Error> {
  const problem = (await answer.json().catch(() => null)) as ProblemAnswer | null
  const detail = problem?.detail ?? `The server answered with ${answer.status}.`
  if (answer.status >= 500 && answer.status !== 507) return new AwayError(detail)
  return new RefusedError(answer.status, problem?.code ?? 'refused', detail)
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

const json = async <T>(answer: Promise<Response>): Promise<T> => (await answer).json() as Promise<T>

/** The server's API. Every call rejects with an AwayError or a RefusedError. */
export const client = {
  limits: () => json<Limits>(request('GET', API.limits)),
  samples: () => json<ListedSample[]>(request('GET', API.samples)),
  list: (deleted = false) =>
    json<ListedInvestigation[]>(request('GET', `${API.investigations}${deleted ? '?deleted=true' : ''}`)),
  open: (id: string) => json<OpenedInvestigation>(request('GET', API.investigation(id))),
  create: (body: NewInvestigationRequest) =>
    json<OpenedInvestigation>(request('POST', API.investigations, body)),
  copy: (id: string, copy: string) =>
    json<OpenedInvestigation>(request('POST', API.copies(id), { id: copy })),
  remove: (id: string) => request('DELETE', API.investigation(id)),
  restore: (id: string) => request('POST', API.restored(id)),
  edit: (id: string, body: EditRequest) => json<EditAnswer>(request('POST', API.edits(id), body)),
  takeFootage: (id: string, footage: string, body: FootageRequest) =>
    request('PUT', API.footage(id, footage), body),
  conversion: (id: string) => json<ConversionAnswer | null>(request('GET', API.conversion(id))),
  convertAgain: (id: string) => request('POST', API.conversion(id)),
  cancelConversion: (id: string) => request('DELETE', API.conversion(id)),
}

export type Client = typeof client

/** Sends a small file; larger ones go resumably. */
export async function upload(path: string, body: Blob): Promise<void> {
  let answer: Response
  try {
    answer = await fetch(path, { method: 'PUT', body })
  } catch {
    throw new AwayError('The server cannot be reached.')
  }
  if (!answer.ok) throw await refusalOf(answer)
}
