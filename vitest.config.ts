import { defineConfig } from 'vitest/config'

const project = (name: string, extra: object = {}) => ({
  test: { name, root: `./${name}`, include: ['src/**/*.test.ts'], ...extra },
})

export default defineConfig({
  test: {
    projects: [project('core'), project('web'), project('demo')],
  },
})
