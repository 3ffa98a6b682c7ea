import { createHash } from 'node:crypto'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import compiler from 'assemblyscript/package.json' with { type: 'json' }
import { ROOT } from './folders.ts'

/**
 * `npm run kernels`: compiles `core/kernels` to WebAssembly and keeps it as a module that every thread can load. With
 * `--check` it only says whether what is kept was compiled from these sources, with `--compile-and-check` by compiling
 * them once more.
 */

const SOURCES = join(ROOT, 'core/kernels')
const KEPT = join(ROOT, 'core/src/kernels/compiled.ts')

const OPTIONS = [
  '--enable',
  'simd',
  '--optimizeLevel',
  '3',
  '--runtime',
  'stub',
  '--noAssert',
  // Whoever loads the kernels gives them memory, empty.
  '--importMemory',
  '--zeroFilledMemory',
  // Four numbers at once go from kernel to kernel, not to whoever calls: no need to be warned of that.
  '--disableWarning',
  '112',
]

async function compiled(): Promise<string> {
  // The compiler itself takes seconds to load.
  const { default: asc } = await import('assemblyscript/asc')
  const written: Uint8Array[] = []
  const { error, stderr } = await asc.main(
    ['core/kernels/index.ts', '--baseDir', ROOT, '--outFile', 'kernels.wasm', ...OPTIONS],
    {
      writeFile: (_name: string, contents: Uint8Array | string) => {
        if (typeof contents !== 'string') written.push(contents)
      },
    },
  )
  if (error) throw new Error(`The kernels can’t be compiled.\n${stderr.toString()}`)
  return Buffer.from(written[0]).toString('base64')
}

/** Digest of all that the compiled kernels follow from, and of themselves. */
function digestOf(kernels: string): string {
  const hash = createHash('sha256').update(compiler.version).update(OPTIONS.join(' ')).update(kernels)
  for (const file of readdirSync(SOURCES).sort()) hash.update(file).update(readFileSync(join(SOURCES, file)))
  return hash.digest('hex')
}

const moduleOf = (kernels: string) => `/**
 * What is in \`core/kernels\`, compiled by \`npm run kernels\`.
 * Digest of sources, options and this: ${digestOf(kernels)}
 */
// biome-ignore format: one piece
export const COMPILED = '${kernels}'
`

const mode = process.argv[2]
const kept = readFileSync(KEPT, 'utf8')
if (mode === '--check' || mode === '--compile-and-check') {
  const kernels = mode === '--check' ? (/COMPILED = '([^']*)'/.exec(kept)?.[1] ?? '') : await compiled()
  if (kept !== moduleOf(kernels)) {
    console.error(`${relative(ROOT, KEPT)} is not what core/kernels says now: npm run kernels`)
    process.exit(1)
  }
} else writeFileSync(KEPT, moduleOf(await compiled()))
