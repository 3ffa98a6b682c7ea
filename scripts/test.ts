import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, relative } from 'node:path'
import { buildPages } from './build.ts'
import { ROOT } from './folders.ts'

/** `npm test`: types, lint, unit, server and browser tests; ends with one line that sums all of them. */

let passed = 0
let failed = 0
/** What failed and why: told once more at the end, where it is found. */
const failures: string[] = []

function check(name: string, command: string, args: string[]): void {
  const run = spawnSync(command, args, { cwd: ROOT, encoding: 'utf8' })
  const good = run.status === 0
  if (good) passed++
  else {
    failed++
    failures.push(`${name}\n${run.stdout}\n${run.stderr}`)
  }
  console.log(`${good ? 'passed' : 'FAILED'}  ${name}`)
}

function vitest(...projects: string[]): void {
  const folder = mkdtempSync(join(tmpdir(), 'apokinema-results-'))
  const report = join(folder, 'results.json')
  const chosen = projects.flatMap((project) => ['--project', project])
  const run = spawnSync(
    'npx',
    ['vitest', 'run', ...chosen, '--reporter=default', '--reporter=json', `--outputFile.json=${report}`],
    { cwd: ROOT, stdio: ['ignore', 'inherit', 'inherit'] },
  )
  try {
    const results = JSON.parse(readFileSync(report, 'utf8')) as {
      numPassedTests: number
      numFailedTests: number
      success: boolean
      testResults: {
        name: string
        message: string
        assertionResults: { status: string; fullName: string; failureMessages: string[] }[]
      }[]
    }
    for (const { name, message, assertionResults } of results.testResults) {
      const wrong = assertionResults.filter(({ status }) => status === 'failed')
      for (const { fullName, failureMessages } of wrong)
        failures.push(`${relative(ROOT, name)}: ${fullName}\n${failureMessages.join('\n')}`)
      if (message && wrong.length === 0) failures.push(`${relative(ROOT, name)}\n${message}`)
    }
    passed += results.numPassedTests
    // A file that can't even be loaded has no tests to fail.
    failed +=
      results.numFailedTests > 0 ? results.numFailedTests : results.success && run.status === 0 ? 0 : 1
  } catch {
    failed++
    console.log(`FAILED  ${projects.join(', ')}: no results`)
  }
  rmSync(folder, { recursive: true, force: true })
}

for (const room of ['core', 'server', 'web', 'demo', 'e2e', 'scripts'])
  check(`types of ${room}`, 'npx', ['tsc', '-p', room])
check('kernels are compiled from their source', process.execPath, [
  ...['--import', 'tsx', 'scripts/kernels.ts', '--check'],
])
check('format and lint', process.execPath, ['scripts/biome.mjs', 'check', '--error-on-warnings'])
try {
  buildPages(console.log)
  passed++
} catch (error) {
  failed++
  console.log((error as Error).message)
}
vitest('core', 'web', 'demo')
vitest('server')
vitest('e2e')

for (const failure of failures) console.log(`\nFAILED  ${failure}`)
console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed > 0 ? 1 : 0)
