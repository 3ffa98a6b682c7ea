import { writeFileSync } from 'node:fs'
import { relative } from 'node:path'
import { stripVTControlCharacters } from 'node:util'
import type { SerializedError } from 'vitest'
import type { Reporter, TestModule } from 'vitest/node'
import { ROOT } from '../folders.ts'

/** What came of one test. */
interface TestResult {
  name: string
  /** Such as “passed”, “failed” or “skipped”. */
  state: string
  seconds: number
  /** Of every attempt that failed, also of a test that passed when it was tried again. */
  errors: string[]
}

/** What came of one file of tests; `errors` are those of no test, such as one that can't be loaded. */
interface FileResult {
  path: string
  seconds: number
  errors: string[]
  tests: TestResult[]
}

/** What Vitest's own JSON report has, and what it leaves out: attempts that failed, and faults outside of the tests. */
export interface Results {
  files: FileResult[]
  /** Rejections and exceptions that nobody handled. */
  unhandled: string[]
}

/** Writes the `Results` of a run to the file that RESULTS_FILE names, as JSON. */
export default class ResultsReporter implements Reporter {
  onTestRunEnd(modules: readonly TestModule[], unhandled: readonly SerializedError[]): void {
    const results: Results = { files: modules.map(fileResult), unhandled: unhandled.map(textOf) }
    writeFileSync(process.env.RESULTS_FILE!, JSON.stringify(results))
  }
}

function fileResult(module: TestModule): FileResult {
  return {
    path: relative(ROOT, module.moduleId),
    seconds: module.diagnostic().duration / 1000,
    errors: [...module.errors(), ...[...module.children.allSuites()].flatMap((suite) => suite.errors())].map(
      textOf,
    ),
    tests: [...module.children.allTests()].map((test) => ({
      name: test.fullName,
      state: test.result().state,
      seconds: (test.diagnostic()?.duration ?? 0) / 1000,
      errors: (test.result().errors ?? []).map(textOf),
    })),
  }
}

/** Returns what an error says, what it compared, and where in our own files it was thrown. */
function textOf({ name, message, stack, diff }: SerializedError): string {
  const text = (stack ?? `${name}: ${message}`)
    // Of a test that took too long the error has the stack alone, under the name of a placeholder.
    .replace('STACK_TRACE_ERROR', 'it took longer than its time, or its files did; see above')
    .split('\n')
    .filter((line) => !/^\s+at .*(node_modules|node:|<anonymous>)/.test(line))
  return stripVTControlCharacters([...text, ...(diff ? [diff] : [])].join('\n'))
}
