import type { TestRun } from './testRun.ts'

export const ROOMS = ['core', 'words', 'server', 'web', 'demo', 'e2e', 'scripts']

/** Checks the types of a room. */
export function typesOf(run: TestRun, room: string): Promise<void> {
  return run.check(`types of ${room}`, 'npx', ['tsc', '-p', room])
}

/** Types of all rooms, compiled kernels, format and lint, unused code: what is checked without running the product. */
export async function staticChecks(run: TestRun): Promise<void> {
  for (const room of ROOMS) await typesOf(run, room)
  await run.check('kernels are compiled from their source', process.execPath, [
    '--import',
    'tsx',
    'scripts/kernels.ts',
    '--check',
  ])
  await run.check('format and lint', process.execPath, ['scripts/biome.mjs', 'check', '--error-on-warnings'])
  await run.check('no unused files, exports or dependencies', 'npx', ['knip', '--no-config-hints'])
}
