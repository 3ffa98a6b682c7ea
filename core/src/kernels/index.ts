import { COMPILED } from './compiled.ts'

/** What takes the time with pictures, compiled from `core/kernels`, where each is described. Lists are given by their places. */
interface Kernels {
  roomFrom: { value: number }
  toFloats(bytes: number, floats: number, count: number): void
  halve(from: number, width: number, height: number, to: number): void
  shrink(...given: number[]): void
  render(...given: number[]): void
  smear(from: number, to: number, width: number, height: number, taps: number, count: number): void
  weigh(...given: number[]): void
  lookIn(...given: number[]): void
  lookFor(...given: number[]): void
  scoresAround(column: number, row: number, far: number, scores: number): void
  climb(column: number, row: number, steps: number, found: number): number
  refine(...given: number[]): number
  shade(...given: number[]): void
  colourDifference(...given: number[]): void
  halfMean(...given: number[]): void
  enlarge(...given: number[]): void
  difference(...given: number[]): void
  cover(...given: number[]): void
  extreme(...given: number[]): void
  close(...given: number[]): void
  refineShape(...given: number[]): number
  steadiness(...given: number[]): void
}

interface Memory {
  readonly buffer: ArrayBuffer
  grow(pages: number): number
}

/** The part of browsers' and Node.js's WebAssembly that is needed; the language's own library does not name it. */
declare const WebAssembly: {
  Memory: new (given: { initial: number }) => Memory
  Module: new (bytes: Uint8Array) => object
  Instance: new (module: object, imports: object) => { exports: unknown }
}
declare function atob(text: string): string

const PAGE = 65_536
/** Every list begins at a multiple of this, with at least as much room behind it: four numbers are read at once. */
const ALIGNED = 16

let loaded: { kernels: Kernels; memory: Memory } | null = null
/** All of the memory, as it is now: asking for it takes a while. */
let all: ArrayBuffer | null = null
/** Where the next list goes; 0 before there is any. */
let next = 0

function load() {
  if (loaded) return loaded
  const memory = new WebAssembly.Memory({ initial: 16 })
  const bytes = Uint8Array.from(atob(COMPILED), (letter) => letter.charCodeAt(0))
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(bytes), { env: { memory } })
  loaded = { kernels: exports as Kernels, memory }
  all = memory.buffer
  next = aligned(loaded.kernels.roomFrom.value)
  return loaded
}

const aligned = (bytes: number) => (bytes + ALIGNED - 1) & -ALIGNED

/** Returns the compiled kernels. */
export function kernels(): Kernels {
  return load().kernels
}

/**
 * Runs work whose lists lie in the kernels' memory. Afterwards their memory is reused: whatever must persist has to
 * be copied.
 *
 * @param bytes that the lists take at most; within other work its own room must be enough for both
 */
export function withArena<T>(bytes: number, work: () => T): T {
  const { memory, kernels } = load()
  const before = next
  const missing = next + bytes - all!.byteLength
  // More memory is other memory: lists that are in use would be gone.
  if (missing > 0 && before === aligned(kernels.roomFrom.value)) {
    memory.grow(Math.ceil(missing / PAGE))
    all = memory.buffer
  }
  try {
    return work()
  } finally {
    next = before
  }
}

function reserve(bytes: number): number {
  const at = next
  if (at + bytes + ALIGNED > load().memory.buffer.byteLength)
    throw new RangeError('The kernels’ room is full.')
  next = aligned(at + bytes + ALIGNED)
  return at
}

/** Allocates a list of 32-bit floats in the kernels' memory; its initial content is undefined. */
export function floatList(count: number): Float32Array {
  const at = reserve(4 * count)
  return new Float32Array(all!, at, count)
}

/** Allocates a list of 32-bit integers; see `floatList`. */
export function wholeList(count: number): Int32Array {
  const at = reserve(4 * count)
  return new Int32Array(all!, at, count)
}

/** Allocates a list of 64-bit floats; see `floatList`. */
export function doubleList(count: number): Float64Array {
  const at = reserve(8 * count)
  return new Float64Array(all!, at, count)
}

/** Allocates a list of bytes; see `floatList`. */
export function byteList(count: number): Uint8Array {
  const at = reserve(count)
  return new Uint8Array(all!, at, count)
}

/** Returns the address of a list in the kernels' memory; a list that lies elsewhere is copied there. */
export function placeOf(list: Float32Array | Int32Array | Float64Array | Uint8Array): number {
  if (list.buffer === all) return list.byteOffset
  const at = reserve(list.byteLength)
  new Uint8Array(all!, at, list.byteLength).set(new Uint8Array(list.buffer, list.byteOffset, list.byteLength))
  return at
}

/** Returns a grid's numbers at half its size, each the mean of four, in the kernels' memory. */
export function halfOf(data: Float32Array, width: number, height: number): Float32Array {
  const to = floatList((width >> 1) * (height >> 1))
  kernels().halve(placeOf(data), width, height, placeOf(to))
  return to
}
