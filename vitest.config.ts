import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { defineConfig } from 'vitest/config'
import LongestFirst from './scripts/testing/longestFirst.ts'

/** Set by `npm run check` and `npm run test:slow`; core/src/testing/extent.ts says what it means. */
const extent = (process.env.TEST_EXTENT ?? 'test') as 'check' | 'test' | 'slow'

/** Test files of a room that do more in `npm run test:slow`: those named `.slow.test.ts`, and those that ask for the extent. */
function slowFiles(room: string): string[] {
  return readdirSync(join(import.meta.dirname, room, 'src'), { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.test.ts'))
    .map((file) => join('src', file))
    .filter(
      (file) =>
        file.endsWith('.slow.test.ts') ||
        readFileSync(join(import.meta.dirname, room, file), 'utf8').includes('testing/extent'),
    )
}

const project = (room: string, extra: object = {}) => ({
  test: {
    name: room,
    root: `./${room}`,
    include: extent === 'slow' ? slowFiles(room) : ['src/**/*.test.ts'],
    exclude: extent === 'slow' ? [] : ['src/**/*.slow.test.ts'],
    provide: { extent },
    testTimeout: extent === 'slow' ? 600_000 : 60_000,
    hookTimeout: 120_000,
    ...extra,
  },
})

export default defineConfig({
  test: {
    // Vitest leaves one core to itself otherwise.
    maxWorkers: 2,
    sequence: { sequencer: LongestFirst },
    projects: [
      project('core', { isolate: false }),
      project('words', { isolate: false }),
      // Modules are put in others' places here.
      project('web'),
      project('demo', { isolate: false }),
      project('server', {
        isolate: false,
        globalSetup: 'src/testing/globalSetup.ts',
        testTimeout: extent === 'slow' ? 600_000 : 90_000,
        expect: { poll: { timeout: 30_000 } },
      }),
      project('e2e', {
        isolate: false,
        globalSetup: 'src/globalSetup.ts',
        // A page test often waits for a screen: a third one finds work for the cores meanwhile.
        maxWorkers: 3,
        // On a loaded machine the browser loses a press or a key about once in ten thousand; what failed says its last input.
        retry: extent === 'slow' ? 0 : 1,
        testTimeout: extent === 'slow' ? 900_000 : 240_000,
        hookTimeout: 240_000,
        // What is polled for may wait for an upload, which waits until the page is idle.
        expect: { poll: { timeout: 60_000 } },
      }),
    ],
  },
})
