import { execFileSync } from 'node:child_process'
import { ROOT } from './folders.ts'
import { ROOMS, typesOf } from './testing/staticChecks.ts'
import { TestRun } from './testing/testRun.ts'

/**
 * `npm run check [base]`: types, lint, and unit tests of what has changed since a commit, the last one where none is
 * named. Tests of demo and server run where these rooms have changed themselves, page tests in `npm test` only.
 */

const base = process.argv[2] ?? 'HEAD'
const git = (...args: string[]) => execFileSync('git', args, { cwd: ROOT, encoding: 'utf8' })
const lines = (text: string) => text.split('\n').filter(Boolean)
const changed = [
  ...lines(git('diff', '--name-only', '--diff-filter=d', base)),
  ...lines(git('ls-files', '--others', '--exclude-standard')),
]
const hasChanged = (room: string) => changed.some((file) => file.startsWith(`${room}/`))

/** All rooms import core, web imports words; server and demo are imported by those that test and start them. */
const affected = ROOMS.filter(
  (room) =>
    hasChanged(room) ||
    hasChanged('core') ||
    (room === 'web' && hasChanged('words')) ||
    (['e2e', 'scripts'].includes(room) && (hasChanged('server') || hasChanged('demo'))),
)
const tested = ['core', 'words', 'web', 'demo', 'server'].filter(
  (room) => hasChanged(room) || (['words', 'web'].includes(room) && hasChanged('core')),
)

const run = new TestRun()
await Promise.all([
  run.part('types and lint', async () => {
    await run.check('format and lint', process.execPath, [
      'scripts/biome.mjs',
      'check',
      '--error-on-warnings',
      '--no-errors-on-unmatched',
      ...changed,
    ])
    for (const room of affected) await typesOf(run, room)
  }),
  tested.length > 0 &&
    run.vitest('unit tests', tested, {
      args: ['--changed', base, '--passWithNoTests'],
      env: { TEST_EXTENT: 'check' },
    }),
])
process.exit(run.finish())
