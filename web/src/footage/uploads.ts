import { API } from '@apokinema/core/api'
import { frameCount } from '@apokinema/core/time'
import type { DetailedError } from 'tus-js-client'
import { create } from 'zustand'
import { AwayError, client, RefusedError, upload } from '../api/client.ts'
import { type WaitingFile, waitingFiles } from '../document/localStore.ts'
import { openInWorker } from './clip.ts'
import { sha256Of } from './files.ts'

/** State of an investigation's upload. */
export interface UploadState {
  share: number
  /** Why it failed for good; null while it goes on. */
  failed: string | null
}

/** Running uploads, by investigation. */
export const useUploads = create<Record<string, UploadState>>(() => ({}))

/** Delay in milliseconds before an interrupted upload is retried; doubled each time that nothing gets through. */
const FIRST_PAUSE = 1000

/** Time in milliseconds without progress after which a connection counts as broken. */
const SILENCE = 60_000

const DISK_FULL = 507

const running = new Set<string>()
/** Checksums of waiting files, by footage. */
const sums = new Map<string, Promise<string>>()

/** Returns the progress of an upload, from 0 to 1. */
const shareOf = (id: string) => useUploads.getState()[id]?.share ?? 0

function setUploadState(id: string, state: UploadState | null): void {
  useUploads.setState((all) => {
    const { [id]: _, ...others } = all
    return state ? { ...others, [id]: state } : others
  }, true)
}

/**
 * Uploads all footage that waits in this browser, each until it has arrived, however often the
 * connection breaks. Safe to call at any time and more than once.
 */
export async function uploadWaiting(): Promise<void> {
  const waiting = await waitingFiles.all().catch(() => [])
  await Promise.all(
    waiting
      .filter(({ investigation }) => !running.has(investigation))
      .map(({ investigation }) => deliver(investigation)),
  )
}

async function deliver(id: string): Promise<void> {
  running.add(id)
  try {
    for (let pause = FIRST_PAUSE; ; pause = Math.min(15_000, 2 * pause)) {
      const waiting = await waitingFiles.get(id)
      if (!waiting) return
      const before = shareOf(id)
      try {
        await send(waiting)
        if (waiting.kind === 'as-it-is') {
          await quiet()
          await sendPoster(id, waiting.id, waiting.file)
        }
        await waitingFiles.remove(id)
        sums.delete(waiting.id)
        setUploadState(id, null)
        return
      } catch (error) {
        if (error instanceof RefusedError) {
          // The file was corrupted on the way, or the server has forgotten the upload: it begins anew.
          if (['sum-differs', 'no-upload'].includes(error.code)) await waitingFiles.setAddress(id, null)
          else setUploadState(id, { share: shareOf(id), failed: error.message })
          // A full disk may have space later; any other refusal is final.
          if (useUploads.getState()[id]?.failed && error.status !== DISK_FULL) return
        } else if (!(error instanceof AwayError)) {
          const failed = `The video could not be read for its upload (${(error as Error).message}). Open it once more from where it is.`
          setUploadState(id, { share: shareOf(id), failed })
          return
        }
        // A connection that makes progress each time is retried at once.
        if (shareOf(id) > before) pause = FIRST_PAUSE
        await new Promise((resolve) => setTimeout(resolve, pause))
      }
    }
  } finally {
    running.delete(id)
  }
}

/** Waits until the page is idle, after showing the first picture for example, but at most some seconds. */
export const quiet = () =>
  new Promise<void>((resolve) => {
    if ('requestIdleCallback' in window)
      setTimeout(() => requestIdleCallback(() => resolve(), { timeout: 5000 }), 1500)
    else setTimeout(resolve, 3000)
  })

/** Uploads a file, resuming an earlier try, and makes it the investigation's footage. */
async function send(waiting: WaitingFile): Promise<void> {
  const { investigation, id, file, name, kind, rate } = waiting
  const { share = 0, failed = null } = useUploads.getState()[investigation] ?? {}
  setUploadState(investigation, { share, failed })
  // The checksum is computed during the upload, once however often the connection breaks.
  const sum = sums.get(id) ?? sha256Of(file)
  sums.set(id, sum)
  sum.catch(() => sums.delete(id))
  const address = await sendResumably(waiting, await waitingFiles.address(investigation))
  await client.takeFootage(investigation, id, {
    upload: address.split('/').at(-1)!,
    sha256: await sum,
    name,
    kind,
    ...(rate ? { rate } : {}),
  })
}

/** Uploads by the tus protocol; resolves with the upload's address when all bytes have arrived. */
async function sendResumably({ investigation, file }: WaitingFile, known: string | null): Promise<string> {
  const { Upload } = await import('tus-js-client')
  let watch: ReturnType<typeof setTimeout> | undefined
  return new Promise<string>((resolve, reject) => {
    // A connection that died without being closed would be waited for forever.
    const listen = () => {
      clearTimeout(watch)
      watch = setTimeout(() => {
        void sending.abort()
        reject(new AwayError('The connection has gone silent during the upload.'))
      }, SILENCE)
    }
    const sending = new Upload(file, {
      endpoint: API.uploads,
      uploadUrl: known,
      // Retries are handled here: they never end, and they are shown to the person.
      retryDelays: null,
      storeFingerprintForResuming: false,
      onUploadUrlAvailable: () => void waitingFiles.setAddress(investigation, sending.url),
      onProgress: (sent, all) => {
        listen()
        setUploadState(investigation, { share: all ? sent / all : 1, failed: null })
      },
      onSuccess: () => resolve(sending.url!),
      onError: (error) => reject(refusal(error as DetailedError)),
    })
    listen()
    sending.start()
  }).finally(() => clearTimeout(watch))
}

function refusal({ originalResponse }: DetailedError): Error {
  const status = originalResponse?.getStatus() ?? 0
  if (![400, 403, 413, DISK_FULL].includes(status))
    return new AwayError('The connection broke during the upload.')
  return new RefusedError(
    status,
    'refused',
    originalResponse!.getBody() || `The server answered with ${status}.`,
  )
}

/** Uploads the poster of the footage; a clip without one is listed without a picture. */
export async function sendPoster(id: string, footage: string, from: Blob | string): Promise<void> {
  const clip = await openInWorker(from).catch(() => null)
  if (!clip) return
  try {
    const poster = await clip.decoder.poster(frameCount(clip.facts.ticks) >> 1)
    if (poster) await upload(API.poster(id, footage), poster)
  } finally {
    clip.close()
  }
}
