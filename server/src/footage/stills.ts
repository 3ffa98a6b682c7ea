import { createWriteStream } from 'node:fs'
import { mkdir } from 'node:fs/promises'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { imageSizeFromFile } from 'image-size/fromFile'
import { type Entry, open, type ZipFile } from 'yauzl'
import { grantRead, grantTraverse } from './converterAccount.ts'
import { ConversionError, checkAmount, checkSize } from './ffmpeg.ts'

/** Limits of a ZIP's unpacked content, so that a small one can't fill the disk. */
export interface StillsLimits {
  files: number
  bytes: number
}

export const STILLS_LIMITS: StillsLimits = { files: 20_000, bytes: 8_000_000_000 }

/** Unpacked numbered stills: a file pattern for the converter, and their common properties. */
export interface Stills {
  pattern: string
  count: number
  width: number
  height: number
}

const KINDS: Record<string, string> = { png: 'png', jpg: 'jpg', jpeg: 'jpg' }
const kindOf = (name: string) => KINDS[name.split('.').at(-1)!.toLowerCase()]
/** Files in archives besides the pictures: system folders and hidden files. */
const isAside = (name: string) => name.endsWith('/') || /(^|\/)(__MACOSX\/|\.)/.test(name)

/** Natural order of names: still 2 before still 10. */
const inNumberOrder = (a: string, b: string) => a.localeCompare(b, 'en', { numeric: true })

/**
 * Unpacks the stills of a ZIP into a folder, renamed in the order of their numbers.
 * Throws a ConversionError that says what is wrong with the ZIP or one of its pictures.
 */
export async function unpackStills(
  zipPath: string,
  folder: string,
  limits: StillsLimits,
  signal: AbortSignal,
): Promise<Stills> {
  const { zip, entries } = await list(zipPath, limits)
  try {
    const pictures = entries
      .filter(({ fileName }) => !isAside(fileName))
      .sort((a, b) => inNumberOrder(a.fileName, b.fileName))
    const strange = pictures.find(({ fileName }) => !kindOf(fileName))
    if (strange)
      throw new ConversionError(
        `“${strange.fileName}” in the ZIP is no PNG or JPEG. Put only the stills in it.`,
      )
    if (pictures.length === 0)
      throw new ConversionError('There is no PNG or JPEG in this ZIP. Put the numbered stills in it.')
    const kind = kindOf(pictures[0].fileName)
    const other = pictures.find(({ fileName }) => kindOf(fileName) !== kind)
    if (other)
      throw new ConversionError(
        `The stills are not all of one kind: “${pictures[0].fileName}” and “${other.fileName}”.`,
      )
    await mkdir(folder, { recursive: true })
    await grantTraverse(folder)
    const pathOf = (number: number) => join(folder, `${String(number).padStart(6, '0')}.${kind}`)
    let first: { width: number; height: number } | null = null
    for (const [i, entry] of pictures.entries()) {
      signal.throwIfAborted()
      await unpack(zip, entry, pathOf(i + 1))
      await grantRead(pathOf(i + 1))
      const size = await imageSizeFromFile(pathOf(i + 1)).catch(() => null)
      if (!size) throw new ConversionError(`“${entry.fileName}” is damaged or no picture.`)
      if (!first) {
        first = size
        checkSize(size)
        checkAmount({ ...size, frames: pictures.length })
      }
      if (size.width !== first.width || size.height !== first.height)
        throw new ConversionError(
          `The stills are not all of one size: “${pictures[0].fileName}” has ${first.width} × ${first.height} px, “${entry.fileName}” ${size.width} × ${size.height} px.`,
        )
    }
    return {
      pattern: join(folder, `%06d.${kind}`),
      count: pictures.length,
      width: first!.width,
      height: first!.height,
    }
  } finally {
    zip.close()
  }
}

async function list(path: string, limits: StillsLimits): Promise<{ zip: ZipFile; entries: Entry[] }> {
  const zip = await openZip(path)
  const entries: Entry[] = []
  let bytes = 0
  await new Promise<void>((resolve, reject) => {
    zip.on('entry', (entry: Entry) => {
      entries.push(entry)
      bytes += entry.uncompressedSize
      if (entries.length > limits.files)
        reject(new ConversionError(`There are more than ${limits.files} files in this ZIP.`))
      else if (bytes > limits.bytes)
        reject(
          new ConversionError(
            `This ZIP would unpack to more than ${Math.round(limits.bytes / 1e9)} GB. Nothing of it was unpacked.`,
          ),
        )
      else zip.readEntry()
    })
    zip.once('end', resolve)
    zip.once('error', (error: Error) => reject(unreadable(error)))
    zip.readEntry()
  }).catch((error) => {
    zip.close()
    throw error
  })
  return { zip, entries }
}

function openZip(path: string): Promise<ZipFile> {
  return new Promise((resolve, reject) => {
    open(path, { lazyEntries: true, autoClose: false }, (error, zip) => {
      if (error) reject(unreadable(error))
      else resolve(zip)
    })
  })
}

function unreadable({ message }: Error): ConversionError {
  return /relative path|absolute path|invalid characters/.test(message)
    ? new ConversionError('This ZIP holds names that lead out of it, so nothing of it was unpacked.', message)
    : new ConversionError('This ZIP is damaged or cut off. Pack the stills once more.', message)
}

function unpack(zip: ZipFile, entry: Entry, path: string): Promise<void> {
  return new Promise((resolve, reject) => {
    // The stated size is enforced: an entry that unpacks to more is an error.
    zip.openReadStream(entry, (error, stream) => {
      if (error) reject(unreadable(error))
      else
        pipeline(stream, createWriteStream(path, { flags: 'wx' })).then(
          resolve,
          (broken: Error & { code?: string }) => reject(broken.code ? broken : unreadable(broken)),
        )
    })
  })
}
