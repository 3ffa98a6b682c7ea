import { readFileSync, writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import asc from 'assemblyscript/asc'
import { ROOT } from './folders.ts'

/**
 * `npm run kernels`: compiles `core/kernels` to WebAssembly and keeps it as a module that every thread can load. With
 * `--check` it only says whether what is kept is that.
 */

const KEPT = join(ROOT, 'core/src/following/compiled.ts')

const OPTIONS = [
  ...['--enable', 'simd', '--optimizeLevel', '3', '--runtime', 'stub', '--noAssert'],
  // Whoever loads the kernels gives them memory, empty.
  ...['--importMemory', '--zeroFilledMemory'],
  // Four numbers at once go from kernel to kernel, not to whoever calls: no need to be warned of that.
  ...['--disableWarning', '112'],
]

async function compiled(): Promise<Uint8Array> {
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
  return written[0]
}

const text = `/** What is in \`core/kernels\`, compiled by \`npm run kernels\`. */
// biome-ignore format: one piece
export const COMPILED = '${Buffer.from(await compiled()).toString('base64')}'
`
if (process.argv[2] !== '--check') writeFileSync(KEPT, text)
else if (readFileSync(KEPT, 'utf8') !== text) {
  console.error(`${relative(ROOT, KEPT)} is not what core/kernels says now: npm run kernels`)
  process.exit(1)
}
