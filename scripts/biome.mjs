// Runs the formatter and linter. Its program is taken from the package of this machine's kind, since the
// package that chooses one names kinds that not every registry has, and a lock file could not be complete.
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const program = fileURLToPath(
  new URL(`../node_modules/@biomejs/cli-${process.platform}-${process.arch}/biome`, import.meta.url),
)
if (!existsSync(program)) {
  console.error(
    `There is no formatter for ${process.platform} on ${process.arch}; it runs on Linux, x64 and arm64.`,
  )
  process.exit(1)
}
process.exit(spawnSync(program, process.argv.slice(2), { stdio: 'inherit' }).status ?? 1)
