import { createHash, randomUUID } from 'node:crypto'
import { createReadStream, createWriteStream } from 'node:fs'
import { mkdir, open, readdir, rename, rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { type Readable, Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { Problem } from '../problem.ts'

/** A file as it was stored. */
export interface StoredFile {
  sha256: string
  size: number
  type: string
}

const MOST_POSTER_BYTES = 400_000

/** What kind of footage a file's first bytes say it is; null where it is none that is taken. */
function footageType(head: Buffer): string | null {
  if (head.length >= 4 && head.readUInt32BE(0) === 0x1a45dfa3) return 'video/webm'
  const box = head.toString('latin1', 4, 8)
  if (box === 'ftyp') return head.toString('latin1', 8, 12) === 'qt  ' ? 'video/quicktime' : 'video/mp4'
  return ['moov', 'mdat', 'wide', 'free', 'skip'].includes(box) ? 'video/quicktime' : null
}

/**
 * Footage files on disk, named by their SHA-256 and by nothing that a person typed. A file is either
 * there whole or not at all: it is written aside and moved when it is complete.
 */
export class Vault {
  constructor(
    private readonly folder: string,
    private readonly mostBytes: number,
  ) {}

  private async aside(): Promise<string> {
    const folder = join(this.folder, 'incoming')
    await mkdir(folder, { recursive: true })
    return join(folder, randomUUID())
  }

  private tooLarge(): Problem {
    const limit = Math.round(this.mostBytes / 1e6)
    return new Problem(
      413,
      'footage-too-large',
      `This video is larger than the ${limit} MB that this server takes. Cut it to the motion and try again.`,
    )
  }

  /** Path of a stored file below the vault's folder. */
  pathOf(sha256: string): string {
    return join(sha256.slice(0, 2), sha256)
  }

  get root(): string {
    return this.folder
  }

  /** Takes a stream in; what is half-made when it breaks is removed. */
  async store(incoming: Readable, expected?: number): Promise<StoredFile> {
    if (expected !== undefined && expected > this.mostBytes) throw this.tooLarge()
    const path = await this.aside()
    const hash = createHash('sha256')
    let size = 0
    let type: string | null = null
    const mostBytes = this.mostBytes
    const tooLarge = () => this.tooLarge()
    const meter = new Transform({
      transform(chunk: Buffer, _encoding, done) {
        if (size === 0) {
          type = footageType(chunk)
          if (!type) {
            done(
              new Problem(
                415,
                'not-footage',
                'This file is not an MP4, MOV or WebM video. Nothing of it was kept.',
              ),
            )
            return
          }
        }
        size += chunk.length
        if (size > mostBytes) {
          done(tooLarge())
          return
        }
        hash.update(chunk)
        done(null, chunk)
      },
    })
    try {
      await pipeline(incoming, meter, createWriteStream(path, { flags: 'wx' }))
      if (size === 0 || !type)
        throw new Problem(400, 'empty-footage', 'This file is empty. Nothing was kept.')
      if (expected !== undefined && size !== expected)
        throw new Problem(
          400,
          'upload-broke',
          'The upload broke off before its end. Nothing half-made was kept.',
        )
      const sha256 = hash.digest('hex')
      await this.keep(path, sha256)
      return { sha256, size, type }
    } catch (error) {
      await rm(path, { force: true })
      throw error
    }
  }

  /** Flushes a finished file and moves it to its name; one that is there already is the same one. */
  private async keep(path: string, sha256: string): Promise<void> {
    const handle = await open(path, 'r+')
    await handle.sync()
    await handle.close()
    await mkdir(join(this.folder, sha256.slice(0, 2)), { recursive: true })
    await rename(path, join(this.folder, this.pathOf(sha256)))
  }

  /** Copies a file of this machine in. */
  async storeCopy(path: string): Promise<StoredFile> {
    return this.store(createReadStream(path))
  }

  async storePoster(sha256: string, jpeg: Buffer): Promise<void> {
    if (jpeg.length > MOST_POSTER_BYTES || jpeg.length < 4 || jpeg.readUInt16BE(0) !== 0xffd8)
      throw new Problem(415, 'not-a-poster', 'The picture of the footage must be a small JPEG.')
    const path = await this.aside()
    await writeFile(path, jpeg, { flag: 'wx' })
    await rename(path, join(this.folder, `${this.pathOf(sha256)}.poster.jpg`))
  }

  /** Really erases a file and what was made from it. */
  async erase(sha256: string): Promise<void> {
    await rm(join(this.folder, this.pathOf(sha256)), { force: true })
    await rm(join(this.folder, `${this.pathOf(sha256)}.poster.jpg`), { force: true })
  }

  /** Removes what an interrupted server left half-written. Called before any upload can run. */
  async tidy(): Promise<void> {
    const folder = join(this.folder, 'incoming')
    const left = await readdir(folder).catch(() => [] as string[])
    for (const name of left) await rm(join(folder, name), { force: true })
  }
}
