import { analyse } from '../analysis/index.ts'
import { bodyNames, type Investigation, readInvestigation } from '../investigation/index.ts'
import { type DataTable, dataTable, type MotionTable, type NameOf, QUANTITIES } from '../motion/index.ts'
import { delimited } from './csv.ts'

/** Version of the form in which a whole investigation is packed into one file. */
export const PACKED_VERSION = 1

/** The entry of the ZIP that says what is in it. */
export const PACKED_ENTRY = 'investigation.json'

/** What that entry holds. */
export interface PackedInvestigation {
  format: 'apokinema-investigation'
  version: number
  /** Name of the entry with the footage; null where there is none. */
  footage: string | null
  document: Investigation
}

/** Why an investigation can't be read out of a file; `packed.ts` in `words` has the sentences. */
export type PackedProblem =
  /** In the validation's own terms, where it says why. */
  | { code: 'damaged'; why: string | null }
  | { code: 'no-investigation' | 'newer' | 'too-large' | 'footage-unsound' | 'zip-damaged' }

/** Thrown for a file that is no investigation, or one that can't be opened here. */
export class PackedError extends Error {
  constructor(readonly problem: PackedProblem) {
    super(JSON.stringify(problem))
  }
}

/** Returns a name of an entry that no file system takes for a path of its own. */
function entryName(name: string): string {
  return name.replace(/[^\p{L}\p{N}._-]+/gu, '_').replace(/^\.+/, '') || 'footage'
}

/** Returns every quantity of a body that has values, as a table. */
function wholeTable(investigation: Investigation, table: MotionTable): DataTable {
  const nameOf: NameOf = (id) =>
    QUANTITIES[id as keyof typeof QUANTITIES] ?? {
      symbol: investigation.quantities[id]?.symbol ?? id,
      subscript: '',
      name: id,
    }
  const ids = ['picture-x', 'picture-y', ...Object.keys(QUANTITIES), ...Object.keys(investigation.quantities)]
  const has = (id: string) => id.startsWith('picture') || table.column(id).rows.length > 0
  return dataTable([{ table, columns: ids.filter(has) }], nameOf)
}

/** A text entry of the ZIP. */
export interface PackedText {
  name: string
  text: string
}

/**
 * Returns the text entries of an investigation in one file: itself, its tables for people and other programs, and a readme.
 *
 * @param hasFootage whether the footage goes into the file, too
 * @param readme returns the text of the readme, given the names of the other entries
 */
export function packedTexts(
  investigation: Investigation,
  hasFootage: boolean,
  readme: (entries: { document: string; footage: string | null; tables: string[] }) => string,
): { entries: PackedText[]; footage: string | null } {
  const { bodies, footage: file } = investigation
  const footage = hasFootage && file ? `footage/${entryName(file.name)}` : null
  const packed: PackedInvestigation = {
    format: 'apokinema-investigation',
    version: PACKED_VERSION,
    footage,
    document: investigation,
  }
  const names = bodyNames(bodies)
  const tables = Object.entries(bodies).map(([id, { name }], i) => ({
    name: `tables/${i + 1} ${entryName(name)}.csv`,
    text: delimited(wholeTable(investigation, analyse(investigation).table(id)), names, {
      separator: ',',
      decimalComma: false,
      byteOrderMark: false,
      errors: true,
      rounded: false,
    }),
  }))
  return {
    footage,
    entries: [
      { name: PACKED_ENTRY, text: JSON.stringify(packed) },
      {
        name: 'README.txt',
        text: readme({ document: PACKED_ENTRY, footage, tables: tables.map(({ name }) => name) }),
      },
      ...tables,
    ],
  }
}

/**
 * Reads the entry that says what is in the file, upgraded to this version's form.
 *
 * @throws PackedError where it is no such file or a newer one
 * @throws NewerDocumentError where its document is newer
 */
export function readPacked(text: string): PackedInvestigation {
  let value: Partial<PackedInvestigation>
  try {
    value = JSON.parse(text) as Partial<PackedInvestigation>
  } catch {
    throw new PackedError({ code: 'damaged', why: null })
  }
  if (typeof value !== 'object' || value === null || value.format !== 'apokinema-investigation')
    throw new PackedError({ code: 'no-investigation' })
  if (typeof value.version !== 'number' || value.version > PACKED_VERSION)
    throw new PackedError({ code: 'newer' })
  const footage = typeof value.footage === 'string' ? value.footage : null
  try {
    return { ...value, footage, document: readInvestigation(value.document) } as PackedInvestigation
  } catch (error) {
    if (error instanceof RangeError) throw new PackedError({ code: 'damaged', why: error.message })
    throw error
  }
}
