import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { ROOT } from './folders.ts'

/** Digest of everything that the pages are built from. */
function sourceDigest(): string {
  const hash = createHash('sha256')
  const walk = (folder: string) => {
    for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) =>
      a.name < b.name ? -1 : 1,
    )) {
      const path = join(folder, entry.name)
      if (entry.isDirectory()) walk(path)
      else if (!entry.name.includes('.test.')) hash.update(path.slice(ROOT.length)).update(readFileSync(path))
    }
  }
  for (const folder of ['core/src', 'words/src', 'web/src', 'web/public', 'help']) walk(join(ROOT, folder))
  for (const file of [
    'package-lock.json',
    'web/vite.config.ts',
    'web/preloads.ts',
    'web/index.html',
    'docs/methods.md',
  ])
    hash.update(readFileSync(join(ROOT, file)))
  return hash.digest('hex')
}

/** Builds the pages unless they stand there built from just these sources. */
export function buildPages(say: (text: string) => void): void {
  const stamp = join(ROOT, 'web/dist/.sources')
  const digest = sourceDigest()
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === digest) return
  say('Building the pages …')
  const built = spawnSync('npx', ['vite', 'build', '--logLevel', 'warn'], {
    cwd: join(ROOT, 'web'),
    // Tests set another mode, in which React is built for development.
    env: { ...process.env, NODE_ENV: 'production' },
    encoding: 'utf8',
  })
  if (built.status !== 0) throw new Error(`The pages could not be built:\n${built.stdout}\n${built.stderr}`)
  writeFileSync(stamp, digest)
}

if (process.argv[1] === fileURLToPath(import.meta.url)) buildPages(console.log)
