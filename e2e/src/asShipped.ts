import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'vite'

/**
 * Loads a module as its users get it, bundled and minified: what compiles TypeScript for Node.js keeps the name of every
 * function at run time, which takes small sums much longer.
 *
 * @param entry its path
 */
export async function asShipped<T>(entry: string): Promise<T> {
  const folder = mkdtempSync(join(tmpdir(), 'apokinema-bench-'))
  try {
    await build({
      configFile: false,
      logLevel: 'error',
      build: { outDir: folder, emptyOutDir: true, lib: { entry, formats: ['es'], fileName: 'shipped' } },
    })
    return (await import(pathToFileURL(join(folder, 'shipped.js')).href)) as T
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
