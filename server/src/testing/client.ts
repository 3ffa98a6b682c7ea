import { createHash } from 'node:crypto'
import {
  API,
  type ConversionAnswer,
  type FootageRequest,
  type OpenedInvestigation,
} from '@apokinema/core/api'
import type { TestServer } from './testServer.ts'

let counter = 0
/** Returns a fresh id in every call. */
export const uuid = () => `00000000-0000-4000-8000-${String(++counter).padStart(12, '0')}`

export const sha256Of = (body: Buffer) => createHash('sha256').update(body).digest('hex')

/** Speaks to a test server the way the page does. */
export function clientOf(server: Pick<TestServer, 'origin'>) {
  const send = (method: string, path: string, body?: unknown, headers: Record<string, string> = {}) =>
    fetch(server.origin + path, {
      method,
      headers: {
        Origin: server.origin,
        ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
        ...headers,
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })

  const tus = (method: string, path: string, headers: Record<string, string>, body?: Buffer) =>
    fetch(server.origin + path, {
      method,
      headers: { Origin: server.origin, 'Tus-Resumable': '1.0.0', ...headers },
      ...(body ? { body: new Uint8Array(body) } : {}),
    })

  /** Begins an upload of so many bytes; gives the answer, whose Location is the upload's address. */
  const begin = (bytes: number) => tus('POST', API.uploads, { 'Upload-Length': String(bytes) })

  const patch = (path: string, offset: number, body: Buffer) =>
    tus(
      'PATCH',
      path,
      { 'Upload-Offset': String(offset), 'Content-Type': 'application/offset+octet-stream' },
      body,
    )

  /** Uploads a file whole and gives the id of the upload. */
  const upload = async (body: Buffer): Promise<string> => {
    const path = (await begin(body.length)).headers.get('location')!
    if (body.length > 0) await patch(path, 0, body)
    return path.split('/').at(-1)!
  }

  return {
    send,
    tus,
    begin,
    patch,
    upload,

    /** Makes an investigation, from a sample where one is named. */
    async make(sample?: string): Promise<OpenedInvestigation> {
      const answer = await send('POST', API.investigations, {
        id: uuid(),
        title: 'Net float',
        ...(sample ? { sample } : {}),
      })
      return (await answer.json()) as OpenedInvestigation
    },

    open: async (id: string) =>
      (await (await send('GET', API.investigation(id))).json()) as OpenedInvestigation,

    /** Makes an uploaded file the footage of an investigation. */
    claim: async (
      investigation: string,
      footage: string,
      body: Buffer,
      change: Partial<FootageRequest> = {},
    ): Promise<Response> => {
      const request: FootageRequest = {
        upload: change.upload ?? (await upload(body)),
        sha256: sha256Of(body),
        name: 'clip.mp4',
        kind: 'as-it-is',
        ...change,
      }
      return send('PUT', API.footage(investigation, footage), request)
    },

    conversion: async (id: string) =>
      (await (await send('GET', API.conversion(id))).json()) as ConversionAnswer | null,
  }
}
