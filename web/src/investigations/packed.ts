import { PACKED_ENTRY, PackedError, type PackedInvestigation, readPacked } from '@apokinema/core/formats'
import { packedProblemText } from '@apokinema/words/packed'
import { BlobReader, BlobWriter, configure, type FileEntry, TextWriter, ZipReader } from '@zip.js/zip.js'

/** Characters that the description of an investigation may unpack to: more than any that was made here. */
const MOST_TEXT = 64_000_000

/** An investigation in one file, with its footage where it has it. */
export interface Unpacked {
  packed: PackedInvestigation
  footage: File | null
}

configure({ useWebWorkers: false })

const wholeEntry = (one: { filename: string; directory: boolean }, name: string): one is FileEntry =>
  one.filename === name && !one.directory

/**
 * Reads an investigation out of a ZIP; null where the ZIP is something else, or can't be read at all. Only the entries that it names itself are
 * read, and nothing is written anywhere by their names.
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
    // Footage is never packed tighter than it is: what claims to be is a trap.
    if (entry.uncompressedSize > 1.1 * file.size + 1024) throw new PackedError({ code: 'footage-unsound' })
    const blob = await (entry as FileEntry).getData(new BlobWriter()).catch(damaged)
    return { packed, footage: new File([blob], footage.name) }
  } finally {
    await reader.close()
  }
}

/** Returns true if a ZIP begins as those do that investigations are packed into, whatever became of the rest. */
async function beginsPacked(file: Blob): Promise<boolean> {
  const head = await file.slice(HEADER, HEADER + PACKED_ENTRY.length).text()
  return head === PACKED_ENTRY
}

/** Bytes of a ZIP before the name of its first entry. */
const HEADER = 30

function damaged(): never {
  throw new PackedError({ code: 'zip-damaged' })
}

/** Returns why an investigation could not be read out of a ZIP, in a sentence. */
export function whyNotUnpacked(error: Error): string {
  return error instanceof PackedError ? packedProblemText(error.problem) : error.message
}
