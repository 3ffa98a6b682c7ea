import { defineConfig } from 'vitest/config'

const project = (name: string, extra: object = {}) => ({
  test: { name, root: `./${name}`, include: ['**/*.test.ts'], exclude: ['node_modules', 'dist'], ...extra },
})

export default defineConfig({
  test: {
    projects: [
      project('core'),
      project('web'),
      project('demo'),
      project('server', { testTimeout: 30_000, hookTimeout: 60_000 }),
      project('e2e', { testTimeout: 60_000, hookTimeout: 120_000, fileParallelism: false }),
    ],
  },
})
