import { isStill, isZip } from '../footage/files.ts'
import type { Unpacked } from './packed.ts'

/** What chosen files are: a video, several of them, numbered stills, an investigation in one file, or nothing that can be opened. */
export type SortedFiles = { file: File } & (
  | { kind: 'video' }
  | { kind: 'videos'; videos: File[] }
  | { kind: 'stills'; stills: File[] }
  | { kind: 'packed'; packed: Unpacked }
  | { kind: 'refused'; why: string }
)

/** Returns what the chosen files are, judged by the first of them. Rejects if it can't be read. */
export async function sortFiles(all: File[]): Promise<SortedFiles> {
  const [file] = all
  const zip = await isZip(file)
  if (zip) {
    // The code that reads ZIPs is loaded only when one is chosen.
    const { unpacked, whyNotUnpacked } = await import('./packed.ts')
    const found = await unpacked(file).catch((error: Error) => error)
    if (found instanceof Error) return { kind: 'refused', file, why: whyNotUnpacked(found) }
    if (found) return { kind: 'packed', file, packed: found }
    return { kind: 'stills', file, stills: [file] }
  }
  if (all.length > 1 && all.every(isStill)) return { kind: 'stills', file, stills: all }
  if (isStill(file)) {
    const why = 'One still is not a film. Choose several numbered ones at once, or a ZIP of them.'
    return { kind: 'refused', file, why }
  }
  const videos = all.filter((one) => !isStill(one))
  return videos.length > 1 ? { kind: 'videos', file, videos } : { kind: 'video', file }
}
