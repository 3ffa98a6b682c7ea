import { defineConfig } from 'vitest/config'

const project = (name: string, extra: object = {}) => ({
  test: { name, root: `./${name}`, include: ['**/*.test.ts'], exclude: ['node_modules', 'dist'], ...extra },
})

export default defineConfig({
  test: {
    projects: [
      project('core', { testTimeout: 60_000 }),
      project('web', { testTimeout: 60_000 }),
      project('demo', { testTimeout: 60_000 }),
      project('server', { testTimeout: 90_000, hookTimeout: 120_000, expect: { poll: { timeout: 30_000 } } }),
      project('e2e', {
        testTimeout: 240_000,
        hookTimeout: 240_000,
        fileParallelism: false,
        // What is polled for may wait for an upload, which waits until the page is idle.
        expect: { poll: { timeout: 60_000 } },
      }),
    ],
  },
})
