import { createHash, randomBytes } from 'node:crypto'
import { copyFileSync, existsSync, mkdirSync, renameSync } from 'node:fs'
import { extname, join } from 'node:path'

/** Files that take long to make are kept here, under the digest of all that they follow from. */
const FOLDER = join(import.meta.dirname, '../../../node_modules/.cache/apokinema-fixtures')

function keptPath(key: string, path: string): string {
  return join(FOLDER, createHash('sha256').update(key).digest('hex') + extname(path))
}

/** Copies what was kept under `key` to `path`; returns false where nothing was. */
export function restoreFixture(key: string, path: string): boolean {
  const kept = keptPath(key, path)
  if (!existsSync(kept)) return false
  copyFileSync(kept, path)
  return true
}

/** Keeps the file at `path` under `key`. */
export function keepFixture(key: string, path: string): void {
  const kept = keptPath(key, path)
  mkdirSync(FOLDER, { recursive: true })
  // Two tests can make the same file at once: each puts a whole one in place.
  const whole = `${kept}.${randomBytes(4).toString('hex')}`
  copyFileSync(path, whole)
  renameSync(whole, kept)
}
