import { createHash } from 'node:crypto'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** The folder of this clone. */
export const ROOT = dirname(dirname(fileURLToPath(import.meta.url)))

/**
 * Returns where this clone keeps its data. PostgreSQL refuses to run as root and then needs a folder that its
 * own user can enter, which a clone below somebody's private home is not: root's data is kept under /var/lib.
 */
export function dataFolder(): string {
  if (process.env.DATA_DIR) return process.env.DATA_DIR
  if (process.getuid?.() !== 0) return join(ROOT, '.data')
  return join('/var/lib/apokinema', createHash('sha256').update(ROOT).digest('hex').slice(0, 12))
}

/** Returns where footage is kept, unless it is told otherwise. */
export const footageFolder = () => process.env.FOOTAGE_DIR || join(dataFolder(), 'footage')
