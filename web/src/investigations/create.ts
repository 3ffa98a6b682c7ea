import type { FootageKind } from '@apokinema/core/api'
import {
  cleanTitle,
  edit,
  edits,
  type Footage,
  type Investigation,
  newInvestigation,
} from '@apokinema/core/investigation'
import { frameCount } from '@apokinema/core/time'
import { v4 as uuid } from 'uuid'
import { client } from '../api/client.ts'
import { prefetchInvestigation } from '../api/queries.ts'
import { notify } from '../common/messages.tsx'
import { type WaitingFile, waitingFiles } from '../document/localStore.ts'
import { type Clip, footageOf, leaveOpen, openInWorker } from '../footage/clip.ts'
import { FootageError } from '../footage/FootageError.ts'
import { packStills } from '../footage/files.ts'
import { quiet, uploadWaiting } from '../footage/uploads.ts'
import type { Unpacked } from './packed.ts'

/** Returns a title made from a file's name. */
export function titleOf(name: string): string {
  const plain = name.replace(/\.[^.]+$/, '').replace(/[_\s-]+/g, ' ')
  const title = cleanTitle(plain, 120)
  return title ? title[0].toUpperCase() + title.slice(1) : 'New investigation'
}

const nameOf = (file: File) => cleanTitle(file.name, 255) || 'video'

async function checkSize(file: Blob): Promise<void> {
  const { footageBytes } = await client.limits()
  if (file.size > footageBytes)
    throw new FootageError(
      `This video is larger than the ${Math.round(footageBytes / 1e6)} MB that this server takes. Cut it to the motion and try again; nothing was changed.`,
    )
}

/**
 * Opens a video file; rejects with a message for people if it can't be used, or has to be converted first because this browser can't decode it
 * or its beginning is damaged.
 */
async function openChecked(file: File): Promise<{ clip: Clip; footage: Footage }> {
  // The size limit is requested while the file is checked.
  const fits = checkSize(file)
  fits.catch(() => {})
  const clip = await openInWorker(file).catch(async (error) => {
    await fits
    throw error
  })
  const [isSound] = await Promise.all([clip.decoder.beginsSound(), fits]).catch((error) => {
    clip.close()
    throw error
  })
  // The server's decoder can skip damage at which a browser's stops.
  if (!isSound && (await client.limits()).converts) {
    clip.close()
    throw new FootageError('The beginning of this video is damaged.', true)
  }
  const { missing, ticks } = clip.facts
  if (missing > 0)
    notify(
      `This video is cut off: its last ${missing} frames are missing. The ${frameCount(ticks)} before them can be used.`,
    )
  const about = { id: uuid(), name: nameOf(file), size: file.size, converted: false }
  return { clip, footage: footageOf(clip.facts, about) }
}

/**
 * Creates an investigation from a video file; returns its id. The file is checked first, so that one
 * that can't be used leaves nothing behind; it is uploaded in the background afterwards. A video that this
 * browser can't decode, or whose beginning is damaged, is sent to the server to be converted.
 */
export async function createFromFile(file: File): Promise<string> {
  const opened = await openChecked(file).catch((error) => {
    if (error instanceof FootageError && error.convertible) return error
    throw error
  })
  if (opened instanceof FootageError) return createForConversion(file, opened)
  const { clip, footage } = opened
  // The first picture is decoded while the workbench loads.
  clip.pictures().want(0, [1, 2], [])
  leaveOpen(footage.id, clip)
  const title = titleOf(file.name)
  const { document } = edit(newInvestigation(title), edits.setFootage(footage))
  const id = await createWithFootage(document, file)
  prefetchInvestigation(id)
  return id
}

/**
 * Returns the footage that a video file becomes.
 *
 * @throws FootageError if this browser can't use the file as it is
 */
export async function checkedFootage(file: File): Promise<Footage> {
  const { clip, footage } = await openChecked(file)
  clip.close()
  return footage
}

/** Creates an investigation whose footage is a file as it is, which is uploaded in the background; returns its id. */
export async function createWithFootage(document: Investigation, file: File): Promise<string> {
  const id = uuid()
  await client.create({ id, title: document.title, document })
  const { id: footage, name } = document.footage!
  waitFor({ investigation: id, id: footage, name, kind: 'as-it-is', rate: null, file })
  return id
}

async function createForConversion(file: File, { message }: FootageError): Promise<string> {
  const { converts } = await client.limits()
  if (!converts)
    throw new FootageError(
      `${message} Where ffmpeg is installed on the server (sudo apt-get install ffmpeg), Apokinema converts such videos by itself.`,
    )
  return hand(file, nameOf(file), 'video', null)
}

/**
 * Creates a separate investigation from a repaired copy of footage that this browser can't decode throughout: the server's
 * decoder can skip damage. Returns its id.
 *
 * @param from local file of the footage, or its address
 */
export async function createRepaired(from: Blob | string, name: string): Promise<string> {
  const { converts } = await client.limits()
  if (!converts)
    throw new FootageError(
      'Repairing a video needs ffmpeg on the server (sudo apt-get install ffmpeg). Nothing was changed.',
    )
  const answer = typeof from === 'string' ? await fetch(from) : null
  if (answer && !answer.ok) throw new FootageError('The video could not be fetched. Nothing was changed.')
  const file = answer ? await answer.blob() : (from as Blob)
  return hand(file, name, 'video', null, `${titleOf(name)}, repaired`)
}

/**
 * Creates an investigation from numbered stills, or a ZIP of them, as the frames of a film.
 *
 * @param rate frames per second, as decimal digits
 */
export async function createFromStills(stills: File[], rate: string): Promise<string> {
  const { converts } = await client.limits()
  if (!converts)
    throw new FootageError(
      'Making a film of stills needs ffmpeg on the server (sudo apt-get install ffmpeg). Nothing was changed.',
    )
  const [first] = stills
  const zip = stills.length === 1 ? first : await packStills(stills)
  await checkSize(zip)
  return hand(
    zip,
    stills.length === 1 ? nameOf(first) : `${stills.length} stills from ${nameOf(first)}`,
    'stills',
    rate,
  )
}

/** Creates an investigation whose footage is converted on the server first. */
async function hand(
  file: Blob,
  name: string,
  kind: FootageKind,
  rate: string | null,
  title = titleOf(name),
): Promise<string> {
  const id = uuid()
  await client.create({ id, title })
  waitFor({ investigation: id, id: uuid(), name, kind, rate, file })
  return id
}

/** Keeps a file until it has been uploaded. It is available at once; copying it to the browser's disk takes longer. */
function waitFor(file: WaitingFile): void {
  void waitingFiles.put(file)
  void quiet().then(uploadWaiting)
}

/** Creates an investigation from a sample; returns its id. */
export async function createFromSample(sample: { id: string; title: string }): Promise<string> {
  const id = uuid()
  await client.create({ id, title: sample.title, sample: sample.id })
  return id
}

/**
 * Creates an investigation from one that was packed into a file; returns its id. All ids are new, and the
 * footage is a copy.
 */
export async function createFromPacked({ packed: { document }, footage }: Unpacked): Promise<string> {
  if (footage) await checkSize(footage)
  const id = uuid()
  const own = document.footage && { ...document.footage, id: uuid() }
  await client.create({ id, title: document.title, document: { ...document, footage: own } })
  if (own && footage)
    waitFor({ investigation: id, id: own.id, name: own.name, kind: 'as-it-is', rate: null, file: footage })
  return id
}
