import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import * as Comlink from 'comlink'
import { Zip, ZipPassThrough } from 'fflate'

/** Tasks on whole files, piece by piece: a file is never entirely in memory. */
const files = {
  /** Returns the SHA-256 of a file in hexadecimal digits. */
  async sha256(file: Blob): Promise<string> {
    const sum = sha256.create()
    const reader = file.stream().getReader()
    for (;;) {
      const { done, value } = await reader.read()
      if (done) return bytesToHex(sum.digest())
      sum.update(value)
    }
  },

  /** Packs stills into one ZIP in the given order, stored: pictures are already compressed. */
  async pack(stills: File[]): Promise<Blob> {
    const parts: BlobPart[] = []
    const zip = new Zip((error, part) => {
      if (error) throw error
      parts.push(part as Uint8Array<ArrayBuffer>)
    })
    const places = String(stills.length).length
    for (const [i, still] of stills.entries()) {
      const ending = still.name.split('.').at(-1)!.toLowerCase()
      const entry = new ZipPassThrough(`${String(i + 1).padStart(places, '0')}.${ending}`)
      zip.add(entry)
      entry.push(new Uint8Array(await still.arrayBuffer()), true)
      // Packed parts become a blob, which the browser may move to its disk.
      if (parts.length > 64) parts.splice(0, parts.length, new Blob(parts))
    }
    zip.end()
    return new Blob(parts, { type: 'application/zip' })
  },
}

export type Files = typeof files

Comlink.expose(files)
