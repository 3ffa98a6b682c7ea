import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { ROOT } from './folders.ts'

/** The built server. */
export const SERVER = join(ROOT, 'server/dist/main.js')

/** What is built, and the folders and files that it is built from. */
interface Build {
  name: string
  room: 'web' | 'server'
  folders: string[]
  files: string[]
}

const BUILDS: readonly Build[] = [
  {
    name: 'pages',
    room: 'web',
    folders: ['core/src', 'words/src', 'web/src', 'web/public', 'help'],
    files: [
      'package-lock.json',
      'web/vite.config.ts',
      'web/preloads.ts',
      'web/themeStyles.ts',
      'web/index.html',
      'docs/methods.md',
    ],
  },
  {
    name: 'server',
    room: 'server',
    folders: ['core/src', 'words/src', 'server/src'],
    files: ['package-lock.json', 'server/vite.config.ts'],
  },
]

/** Returns a digest of everything that something is built from. */
function sourceDigest({ folders, files }: Build): string {
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
  for (const folder of folders) walk(join(ROOT, folder))
  for (const file of files) hash.update(readFileSync(join(ROOT, file)))
  return hash.digest('hex')
}

function build(part: Build, say: (text: string) => void): void {
  const stamp = join(ROOT, part.room, 'dist/.sources')
  const digest = sourceDigest(part)
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === digest) return
  say(`Building the ${part.name} …`)
  const built = spawnSync('npx', ['vite', 'build', '--logLevel', 'warn'], {
    cwd: join(ROOT, part.room),
    // Tests set another mode, in which React is built for development.
    env: { ...process.env, NODE_ENV: 'production' },
    encoding: 'utf8',
  })
  if (built.status !== 0)
    throw new Error(`The ${part.name} could not be built:\n${built.stdout}\n${built.stderr}`)
  writeFileSync(stamp, digest)
}

/** Builds the pages and the server, unless they stand there built from just these sources. */
export function buildAll(say: (text: string) => void): void {
  for (const part of BUILDS) build(part, say)
}

if (process.argv[1] === fileURLToPath(import.meta.url)) buildAll(console.log)
