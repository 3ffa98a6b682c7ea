import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ROOT } from '../folders.ts'
import type { Results } from './resultsReporter.ts'

/** How many of the slowest tests and files are printed at the end. */
const SLOWEST = 25

interface Timed {
  name: string
  seconds: number
}

/** Runs checks and tests, counts them, and sums them up at the end. */
export class TestRun {
  private passed = 0
  /** What failed and why: told once more at the end, where it is found. */
  private readonly failures: string[] = []
  /** What failed, was tried again and passed, and why it failed. */
  private readonly retried: string[] = []
  private readonly parts: Timed[] = []
  private readonly files: Timed[] = []
  private readonly tests: Timed[] = []
  private readonly began = performance.now()

  /** Runs a part and notes how long it took. */
  async part<T>(name: string, work: () => Promise<T>): Promise<T> {
    const began = performance.now()
    try {
      return await work()
    } finally {
      this.parts.push({ name, seconds: (performance.now() - began) / 1000 })
    }
  }

  /** Runs a command that is one check: it passes with exit code 0. */
  async check(name: string, command: string, args: string[]): Promise<void> {
    const child = spawn(command, args, { cwd: ROOT, stdio: ['ignore', 'pipe', 'pipe'] })
    let output = ''
    child.stdout.on('data', (data) => (output += data))
    child.stderr.on('data', (data) => (output += data))
    const [code] = await this.part(name, () => once(child, 'close'))
    if (code === 0) this.passed++
    else this.failures.push(`${name}\n${output}`)
    console.log(`${code === 0 ? 'passed' : 'FAILED'}  ${name}`)
  }

  /** Runs Vitest on some rooms, with further arguments and variables, and counts its tests. */
  async vitest(
    name: string,
    rooms: string[],
    { args = [], env = {} }: { args?: string[]; env?: NodeJS.ProcessEnv } = {},
  ): Promise<void> {
    const folder = mkdtempSync(join(tmpdir(), 'apokinema-results-'))
    const report = join(folder, 'results.json')
    const child = spawn(
      process.execPath,
      [
        join(ROOT, 'node_modules/vitest/vitest.mjs'),
        'run',
        ...rooms.flatMap((room) => ['--project', room]),
        '--reporter=default',
        `--reporter=${join(ROOT, 'scripts/testing/resultsReporter.ts')}`,
        ...args,
      ],
      {
        cwd: ROOT,
        stdio: ['ignore', 'inherit', 'inherit'],
        env: { ...process.env, RESULTS_FILE: report, ...env },
      },
    )
    const [code] = await this.part(name, () => once(child, 'close'))
    try {
      this.count(JSON.parse(readFileSync(report, 'utf8')) as Results, name, code)
    } catch {
      this.failures.push(`${name}: no results`)
    }
    rmSync(folder, { recursive: true, force: true })
  }

  private count({ files, unhandled }: Results, name: string, code: number | null): void {
    const failuresBefore = this.failures.length
    for (const { path, seconds, errors, tests } of files) {
      this.files.push({ name: path, seconds })
      for (const test of tests) {
        const title = `${path}: ${test.name}`
        this.tests.push({ name: title, seconds: test.seconds })
        if (test.state !== 'passed') this.failures.push(`${title} (${test.state})\n${test.errors.join('\n')}`)
        else {
          this.passed++
          if (test.errors.length > 0) this.retried.push(`${title}\n${test.errors.join('\n')}`)
        }
      }
      if (errors.length > 0) this.failures.push(`${path}\n${errors.join('\n')}`)
    }
    for (const error of unhandled) this.failures.push(`${name}: nobody handled this\n${error}`)
    if (code !== 0 && this.failures.length === failuresBefore)
      this.failures.push(`${name}: Vitest ended with ${code}; see above`)
  }

  /** Prints what was slow, what failed, and the closing line; returns the exit code. */
  finish(): number {
    const total = (performance.now() - this.began) / 1000
    printTable(`The slowest of ${this.tests.length} tests`, slowest(this.tests))
    printTable(`The slowest of ${this.files.length} files`, slowest(this.files))
    printTable('Parts, some of them beside each other', [...this.parts, { name: 'all', seconds: total }])
    for (const test of this.retried) console.log(`\nPASSED WHEN TRIED AGAIN  ${test}`)
    for (const failure of this.failures) console.log(`\nFAILED  ${failure}`)
    console.log(`\n${this.passed} passed, ${this.failures.length} failed`)
    return this.failures.length > 0 ? 1 : 0
  }
}

function slowest(all: Timed[]): Timed[] {
  return [...all].sort((a, b) => b.seconds - a.seconds).slice(0, SLOWEST)
}

function printTable(title: string, rows: Timed[]): void {
  console.log(`\n${title}:`)
  for (const { name, seconds } of rows) console.log(`${seconds.toFixed(1).padStart(8)} s  ${name}`)
}
