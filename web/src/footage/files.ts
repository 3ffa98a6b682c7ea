import * as Comlink from 'comlink'
import type { Files } from './files.worker.ts'

/** Runs one task on files in a worker of its own. */
async function inWorker<T>(work: (files: Comlink.Remote<Files>) => Promise<T>): Promise<T> {
  const worker = new Worker(new URL('./files.worker.ts', import.meta.url), { type: 'module', name: 'files' })
  try {
    return await work(Comlink.wrap<Files>(worker))
  } finally {
    worker.terminate()
  }
}

/** Returns the SHA-256 of a file in hexadecimal digits, read in pieces. */
export const sha256Of = (file: Blob) => inWorker((files) => files.sha256(file))

/** Returns one ZIP of stills, ordered by the numbers in their names. */
export function packStills(stills: File[]): Promise<Blob> {
  const ordered = [...stills].sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))
  return inWorker((files) => files.pack(ordered))
}

/** Signatures of files that the server can convert, though browsers can't decode them. */
const CONVERTIBLE: ((head: Uint8Array) => boolean)[] = [
  (head) => starts(head, 'RIFF') && starts(head.subarray(8), 'AVI'),
  (head) => starts(head, '\x30\x26\xb2\x75\x8e\x66\xcf\x11'), // WMV
  (head) => head[0] === 0x47 && head[188] === 0x47, // MPEG-TS
  (head) => head[4] === 0x47 && head[196] === 0x47, // MPEG-TS of a camcorder
  (head) => starts(head, '\x00\x00\x01\xba') || starts(head, '\x00\x00\x01\xb3'), // MPEG
  (head) => starts(head, 'GIF8'),
  (head) => starts(head, 'FLV\x01'),
  (head) => starts(head, 'OggS'),
]

const starts = (head: Uint8Array, text: string) =>
  Array.from(text).every((letter, i) => head[i] === letter.charCodeAt(0))

/** Returns true if a file looks like a video that the server may be able to convert. */
export async function looksConvertible(file: Blob): Promise<boolean> {
  const head = new Uint8Array(await file.slice(0, 400).arrayBuffer())
  return CONVERTIBLE.some((fits) => fits(head))
}

/** Returns true if a file is a ZIP. */
export async function isZip(file: Blob): Promise<boolean> {
  return starts(new Uint8Array(await file.slice(0, 4).arrayBuffer()), 'PK\x03\x04')
}

/** Returns true if a file is a still image, by its name. */
export const isStill = ({ name }: File) => /\.(png|jpe?g)$/i.test(name)
