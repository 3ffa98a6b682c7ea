import { chmod, chown } from 'node:fs/promises'

/**
 * The account under which files of others are decoded where the server runs as root: a number that no distribution
 * gives to anybody, so that nothing else on the machine is open to it. Null where the server is no root: then the
 * decoder has the server's own rights.
 */
export const CONVERTER = process.getuid?.() === 0 ? { uid: 61_170, gid: 61_170 } : null

/** Leaves a file to its owner and, for reading, to the converter. */
export async function forReading(path: string): Promise<void> {
  if (CONVERTER) await chown(path, 0, CONVERTER.gid)
  await chmod(path, CONVERTER ? 0o640 : 0o600)
}

/** Leaves a folder to its owner; the converter gets through to what it knows by name. */
export async function forPassing(folder: string): Promise<void> {
  if (CONVERTER) await chown(folder, 0, CONVERTER.gid)
  await chmod(folder, CONVERTER ? 0o710 : 0o700)
}

/** Leaves a folder to the converter, which may write to it. */
export async function forWriting(folder: string): Promise<void> {
  if (CONVERTER) await chown(folder, CONVERTER.uid, CONVERTER.gid)
  await chmod(folder, 0o700)
}
