import { PACKED_ENTRY, PackedError, type PackedInvestigation, readPacked } from '@apokinema/core/formats'
import { packedProblemText } from '@apokinema/words/packed'
import { BlobReader, BlobWriter, configure, type FileEntry, TextWriter, ZipReader } from '@zip.js/zip.js'

/** Maximum size of the unpacked document in characters: larger than any real one. */
const MOST_TEXT = 64_000_000

/** An investigation in one file, with its footage if it has any. */
export interface Unpacked {
  packed: PackedInvestigation
  footage: File | null
}

configure({ useWebWorkers: false })

const wholeEntry = (one: { filename: string; directory: boolean }, name: string): one is FileEntry =>
  one.filename === name && !one.directory

/**
 * Reads an investigation from a ZIP; null if the ZIP contains something else, or can't be read. Only the entries that it names itself are
 * read, and no path of an entry is used.
 *
 * @throws PackedError, or NewerDocumentError
 */
export async function unpacked(file: Blob): Promise<Unpacked | null> {
  const reader = new ZipReader(new BlobReader(file))
  try {
    const entries = await reader.getEntries().catch(() => null)
    if (!entries) return (await beginsPacked(file)) ? damaged() : null
    const main = entries.find((one) => wholeEntry(one, PACKED_ENTRY)) as FileEntry | undefined
    if (!main) return null
    if (main.uncompressedSize > MOST_TEXT) throw new PackedError({ code: 'too-large' })
    const packed = readPacked(await main.getData(new TextWriter()).catch(damaged))
    const { footage } = packed.document
    const name = packed.footage
    const entry = name === null ? undefined : entries.find((one) => wholeEntry(one, name))
    if (!entry || !footage) return { packed, footage: null }
    // Footage is stored without compression: a larger unpacked size is an attack.
    if (entry.uncompressedSize > 1.1 * file.size + 1024) throw new PackedError({ code: 'footage-unsound' })
    const blob = await (entry as FileEntry).getData(new BlobWriter()).catch(damaged)
    return { packed, footage: new File([blob], footage.name) }
  } finally {
    await reader.close()
  }
}

/** Returns true if a ZIP begins like a packed investigation, even if it is damaged later. */
async function beginsPacked(file: Blob): Promise<boolean> {
  const head = await file.slice(HEADER, HEADER + PACKED_ENTRY.length).text()
  return head === PACKED_ENTRY
}

/** Offset of the name of the first entry in a ZIP, in bytes. */
const HEADER = 30

function damaged(): never {
  throw new PackedError({ code: 'zip-damaged' })
}

/** Returns a message that says why an investigation could not be read from a ZIP. */
export function whyNotUnpacked(error: Error): string {
  return error instanceof PackedError ? packedProblemText(error.problem) : error.message
}
