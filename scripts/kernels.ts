import { writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import asc from 'assemblyscript/asc'
import { ROOT } from './folders.ts'

/** Where the compiled kernels are kept, as a module that every thread can load. */
export const COMPILED = join(ROOT, 'core/src/following/compiled.ts')

/**
 * Compiles `core/kernels` to WebAssembly.
 *
 * @returns the text of the module that holds it
 */
export async function compiledKernels(): Promise<string> {
  const { error, stderr, binary } = await compiled()
  if (error || !binary) throw new Error(`The kernels can’t be compiled.\n${stderr.toString()}`)
  const text = Buffer.from(binary).toString('base64')
  return `/** What is in \`core/kernels\`, compiled by \`npm run kernels\`. */\n// biome-ignore format: one piece\nexport const COMPILED = '${text}'\n`
}

async function compiled() {
  let binary: Uint8Array | null = null
  const { error, stderr } = await asc.main(
    [
      relative(ROOT, join(ROOT, 'core/kernels/index.ts')),
      ...['--baseDir', ROOT, '--outFile', 'kernels.wasm', '--enable', 'simd', '--optimizeLevel', '3'],
      // Memory is given by the page, empty. Passing four numbers at once among the kernels is what they are for.
      ...[
        '--runtime',
        'stub',
        '--noAssert',
        '--importMemory',
        '--zeroFilledMemory',
        '--disableWarning',
        '112',
      ],
    ],
    {
      writeFile: (_name: string, contents: Uint8Array | string) => {
        if (typeof contents !== 'string') binary = contents
      },
    },
  )
  return { error, stderr, binary: binary as Uint8Array | null }
}

if (process.argv[1] === import.meta.filename) writeFileSync(COMPILED, await compiledKernels())
