import { API } from '@apokinema/core/api'
import { frameCount } from '@apokinema/core/time'
import { create } from 'zustand'
import { AwayError, RefusedError, upload } from '../api/client.ts'
import { waitingFiles } from '../document/shelf.ts'
import { openInWorker } from './clip.ts'

/** How an investigation's upload stands. */
export interface UploadState {
  share: number
  /** Says why it stopped for good; null while it goes on. */
  failed: string | null
}

/** Uploads that go on, by investigation. */
export const useUploads = create<Record<string, UploadState>>(() => ({}))

const running = new Set<string>()

function tell(id: string, state: UploadState | null): void {
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
    for (let pause = 1000; ; pause = Math.min(15_000, 2 * pause)) {
      const waiting = await waitingFiles.get(id)
      if (!waiting) return
      try {
        tell(id, { share: 0, failed: null })
        await upload(API.footage(id, waiting.footage.id), waiting.file, (share) =>
          tell(id, { share, failed: null }),
        )
        await sendPoster(id, waiting.footage.id, waiting.file)
        await waitingFiles.remove(id)
        tell(id, null)
        return
      } catch (error) {
        if (error instanceof RefusedError) {
          tell(id, { share: 0, failed: error.message })
          return
        }
        if (!(error instanceof AwayError)) throw error
        await new Promise((resolve) => setTimeout(resolve, pause))
      }
    }
  } finally {
    running.delete(id)
  }
}

/** The list's picture of the footage; a clip that gives none is listed without. */
async function sendPoster(id: string, footage: string, file: Blob): Promise<void> {
  const clip = await openInWorker(file).catch(() => null)
  if (!clip) return
  try {
    const poster = await clip.decoder.poster(frameCount(clip.facts.ticks) >> 1)
    if (poster) await upload(API.poster(id, footage), poster)
  } finally {
    clip.close()
  }
}
