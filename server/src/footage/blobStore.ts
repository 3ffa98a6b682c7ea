import { createHash, randomUUID } from 'node:crypto'
import { createReadStream } from 'node:fs'
import { copyFile, lstat, mkdir, open, readdir, rename, rm, stat, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { Problem } from '../problem.ts'
import { grantRead, grantTraverse, grantWrite } from './converterAccount.ts'

/** A stored file. */
export interface StoredFile {
  sha256: string
  size: number
  type: string
}

const MOST_POSTER_BYTES = 400_000

/** Type of a file that browsers can't decode; it is kept as the original of a conversion. */
export const OTHER_TYPE = 'application/octet-stream'

/** Returns the type of footage by a file's first bytes; null if browsers can't decode it. */
function footageType(head: Buffer): string | null {
  if (head.length >= 4 && head.readUInt32BE(0) === 0x1a45dfa3) return 'video/webm'
  const box = head.toString('latin1', 4, 8)
  if (box === 'ftyp') return head.toString('latin1', 8, 12) === 'qt  ' ? 'video/quicktime' : 'video/mp4'
  return ['moov', 'mdat', 'wide', 'free', 'skip'].includes(box) ? 'video/quicktime' : null
}

/** Returns the type of a file by its first bytes; throws a Problem for an empty one. */
export async function typeOf(path: string): Promise<string> {
  const handle = await open(path)
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(16), 0, 16, 0)
    if (bytesRead === 0) throw new Problem(400, 'empty-footage', 'This file is empty. Nothing was kept.')
    return footageType(buffer.subarray(0, bytesRead)) ?? OTHER_TYPE
  } finally {
    await handle.close()
  }
}

/** Returns the path of a stored file below the blob store's folder. */
export const pathOf = (sha256: string) => join(sha256.slice(0, 2), sha256)
/** Returns the path of the file's poster. */
export const posterPathOf = (sha256: string) => `${pathOf(sha256)}.poster.jpg`

/**
 * Footage files on disk, named by their SHA-256, never by what a person typed. Files are written
 * atomically: first into a folder of each server, then moved when they are
 * complete. Only the owner can read them, see converterAccount.ts.
 */
export class BlobStore {
  private constructor(
    private readonly folder: string,
    private readonly server: string,
  ) {}

  /**
   * @param folder of the footage; servers may share it
   * @param server id of this server
   */
  static async open(folder: string, server: string): Promise<BlobStore> {
    await mkdir(join(folder, 'incoming', server), { recursive: true })
    const parts = (await readdir(folder)).filter((name) => /^[0-9a-f]{2}$/.test(name))
    for (const part of ['.', 'incoming', join('incoming', server), ...parts])
      await grantTraverse(join(folder, part))
    return new BlobStore(folder, server)
  }

  private async aside(): Promise<string> {
    const folder = join(this.folder, 'incoming', this.server)
    await mkdir(folder, { recursive: true })
    return join(folder, randomUUID())
  }

  get root(): string {
    return this.folder
  }

  /**
   * Returns checksum, size and type of a complete file. Throws a Problem if it is empty or its checksum is not
   * `expected`.
   */
  async measure(path: string, expected?: string): Promise<StoredFile> {
    const held = await lstat(path)
    // The converter could have written a symbolic link.
    if (!held.isFile()) throw new Error(`${path} is no file`)
    const type = await typeOf(path)
    const hash = createHash('sha256')
    for await (const part of createReadStream(path, { highWaterMark: 1 << 18 }) as AsyncIterable<Buffer>)
      hash.update(part)
    const sha256 = hash.digest('hex')
    if (expected !== undefined && expected !== sha256)
      throw new Problem(
        422,
        'sum-differs',
        'The file did not arrive the way it was sent. It is uploaded once more.',
      )
    return { sha256, size: held.size, type }
  }

  /**
   * Flushes a complete file and moves it to its final path. An existing file there has the same content. Call it
   * through `storeFile` of links.ts, which inserts its row.
   */
  async keep(path: string, { sha256 }: StoredFile): Promise<void> {
    const handle = await open(path, 'r+')
    await handle.sync()
    await handle.close()
    await grantRead(path)
    const part = join(this.folder, sha256.slice(0, 2))
    await mkdir(part, { recursive: true })
    await grantTraverse(part)
    await rename(path, join(this.folder, pathOf(sha256)))
  }

  /** Copies a file into this server's folder for incomplete files and returns the copy's path. */
  async copyAside(path: string): Promise<string> {
    const copy = await this.aside()
    await copyFile(path, copy)
    return copy
  }

  async storePoster(sha256: string, jpeg: Buffer): Promise<void> {
    if (jpeg.length > MOST_POSTER_BYTES || jpeg.length < 4 || jpeg.readUInt16BE(0) !== 0xffd8)
      throw new Problem(415, 'not-a-poster', 'The picture of the footage must be a small JPEG.')
    const path = await this.aside()
    await writeFile(path, jpeg, { flag: 'wx', mode: 0o600 })
    await rename(path, join(this.folder, posterPathOf(sha256)))
  }

  /** Erases a file and everything derived from it. */
  async erase(sha256: string): Promise<void> {
    await rm(join(this.folder, pathOf(sha256)), { force: true })
    await rm(join(this.folder, posterPathOf(sha256)), { force: true })
  }

  /** Yields the checksums of all stored files. */
  async *checksums(): AsyncGenerator<string> {
    for (const part of await readdir(this.folder)) {
      if (!/^[0-9a-f]{2}$/.test(part)) continue
      yield* (await readdir(join(this.folder, part))).filter((name) => /^[0-9a-f]{64}$/.test(name))
    }
  }

  /** Returns size and type of a stored file; null if it was erased meanwhile. */
  async describe(sha256: string): Promise<StoredFile | null> {
    const path = join(this.folder, pathOf(sha256))
    const held = await stat(path).catch(() => null)
    return held && { sha256, size: held.size, type: await typeOf(path).catch(() => OTHER_TYPE) }
  }

  /** Returns an empty folder for work on a file, writable for the converter; the caller removes it. */
  async workFolder(name: string): Promise<string> {
    const folder = join(this.folder, 'incoming', this.server, name)
    await rm(folder, { recursive: true, force: true })
    await mkdir(folder, { recursive: true })
    await grantWrite(folder)
    return folder
  }

  /** Removes incomplete files of dead servers. */
  async tidy(present: string[]): Promise<void> {
    for (const server of await readdir(join(this.folder, 'incoming')))
      if (!present.includes(server))
        await rm(join(this.folder, 'incoming', server), { recursive: true, force: true })
  }

  /** Removes this server's folder for incomplete files. */
  async leave(): Promise<void> {
    await rm(join(this.folder, 'incoming', this.server), { recursive: true, force: true })
  }
}
