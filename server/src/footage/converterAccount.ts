import { chmod, chown } from 'node:fs/promises'

/**
 * User and group under which ffmpeg runs if the server runs as root: a number that no distribution assigns, so the process
 * has no access to anything else. Null if the server is not root: ffmpeg then runs with the server's own rights.
 */
export const CONVERTER_ACCOUNT = process.getuid?.() === 0 ? { uid: 61_170, gid: 61_170 } : null

/** Makes a file readable for its owner and for the converter only. */
export async function grantRead(path: string): Promise<void> {
  if (CONVERTER_ACCOUNT) await chown(path, 0, CONVERTER_ACCOUNT.gid)
  await chmod(path, CONVERTER_ACCOUNT ? 0o640 : 0o600)
}

/** Restricts a folder to its owner. The converter may traverse it to paths it knows, but not list it. */
export async function grantTraverse(folder: string): Promise<void> {
  if (CONVERTER_ACCOUNT) await chown(folder, 0, CONVERTER_ACCOUNT.gid)
  await chmod(folder, CONVERTER_ACCOUNT ? 0o710 : 0o700)
}

/** Gives a folder to the converter, which may write to it. */
export async function grantWrite(folder: string): Promise<void> {
  if (CONVERTER_ACCOUNT) await chown(folder, CONVERTER_ACCOUNT.uid, CONVERTER_ACCOUNT.gid)
  await chmod(folder, 0o700)
}
