import type { Investigation, Patch } from '../investigation/index.ts'
import { randomSource } from '../random/index.ts'
import { id } from './built.ts'

/** Names that lead into what JavaScript's objects have in common, or that are merely odd. */
const ODD_NAMES = [
  '__proto__',
  'constructor',
  'prototype',
  'hasOwnProperty',
  'toString',
  'valueOf',
  'isPrototypeOf',
  'call',
  'apply',
  'bind',
  'name',
  'length',
  'size',
  'map',
  'then',
  'toJSON',
  '0',
  '-',
  '-1',
  '00',
  '1e3',
  '',
  ' ',
  '~',
  '/',
  '~0',
  '~1',
  '9007199254740993',
  '4294967295',
  'null',
  'undefined',
  '\u0000',
  '\ud83d',
]

const ODD_TEXTS = [
  '',
  ' ',
  '\u0000',
  'a\nb',
  '\ud83d',
  '\udc00',
  '🪁'.repeat(70),
  'x'.repeat(5000),
  '__proto__',
  '9.81',
]

const ODD_NUMBERS = [
  0,
  -0,
  1,
  -1,
  0.5,
  1e-320,
  1e308,
  -1e308,
  2 ** 31,
  2 ** 32 - 1,
  2 ** 53,
  -(2 ** 53),
  1e6,
  50_000_000,
  // What JSON.parse makes of 1e400.
  Number.POSITIVE_INFINITY,
  Number.NEGATIVE_INFINITY,
]

/** An endless row of patches that mean harm: some fit the document nearly, some not at all. Alike for the same seed. */
export class HostilePatches {
  private readonly random: () => number

  constructor(seed: number) {
    this.random = randomSource(seed)
  }

  private chance(share: number): boolean {
    return this.random() < share
  }

  private whole(below: number): number {
    return Math.floor(this.random() * below)
  }

  private one<T>(of: readonly T[]): T {
    return of[this.whole(of.length)]
  }

  next(document: Investigation): Patch {
    return Array.from({ length: 1 + this.whole(3) }, () => {
      const { path, there } = this.place(document)
      const op = this.one(['add', 'replace', 'replace', 'remove'] as const)
      return op === 'remove' ? { op, path } : { op, path, value: this.value(document, there) }
    })
  }

  /** Returns a copy of a document in which up to three things are changed, missing or one too many. */
  spoiltDocument(document: Investigation): unknown {
    let spoilt: unknown = document
    for (let times = 1 + this.whole(3); times > 0; times--) spoilt = this.spoilt(spoilt)
    return spoilt
  }

  /** Returns a path that follows what is there, and goes astray now and then; with what is at its end. */
  private place(document: Investigation): { path: string; there: unknown } {
    const steps: string[] = []
    let at: unknown = document
    for (let depth = 0; depth < 9; depth++) {
      const names = typeof at === 'object' && at !== null ? Object.keys(at) : []
      const step = names.length === 0 || this.chance(0.12) ? this.oddName() : this.one(names)
      steps.push(step)
      at = typeof at === 'object' && at !== null ? (at as Record<string, unknown>)[step] : undefined
      if (this.chance(0.3)) break
    }
    const path = steps.map((step) => `/${step.replaceAll('~', '~0').replaceAll('/', '~1')}`).join('')
    return { path, there: at }
  }

  private oddName(): string {
    return this.chance(0.2) ? id(this.whole(100)) : this.one(ODD_NAMES)
  }

  /** Something else than what is there: like it but for a detail, from elsewhere in the document, or odd. */
  private value(document: Investigation, there: unknown): unknown {
    const kind = this.random()
    if (kind < 0.25) return this.spoilt(there)
    if (kind < 0.45) return this.spoilt(this.place(document).there)
    if (kind < 0.6) return this.one(ODD_NUMBERS)
    if (kind < 0.75) return this.one(ODD_TEXTS)
    if (kind < 0.85) return this.one([null, true, false, [], {}, [[]], [null], [[1, 2]], [[-2, 3]]])
    if (kind < 0.9) return this.nested(1 + this.whole(40))
    return JSON.parse(`{${JSON.stringify(this.oddName())}:${JSON.stringify(this.one(ODD_TEXTS))}}`)
  }

  /** Returns a copy in which one thing is changed, missing or one too many. */
  private spoilt(value: unknown): unknown {
    if (typeof value === 'number')
      return this.chance(0.5) ? this.one(ODD_NUMBERS) : value * (this.random() - 0.5) * 4
    if (typeof value !== 'object' || value === null)
      return this.chance(0.5) ? this.one(ODD_TEXTS) : (value ?? null)
    const copy = JSON.parse(JSON.stringify(value)) as Record<string, unknown>
    const names = Object.keys(copy)
    const name = names.length > 0 && this.chance(0.7) ? this.one(names) : this.oddName()
    if (this.chance(0.3)) delete copy[name]
    else
      Object.defineProperty(copy, name, {
        value: this.spoilt(copy[name]),
        enumerable: true,
        configurable: true,
        writable: true,
      })
    return copy
  }

  private nested(depth: number): unknown {
    let value: unknown = 1
    for (let i = 0; i < depth; i++) value = this.chance(0.5) ? [value] : { a: value }
    return value
  }
}

const BUILT_IN = [
  Object,
  Function,
  Array,
  String,
  Number,
  Boolean,
  RegExp,
  Date,
  Promise,
  Map,
  Set,
  Error,
  Symbol,
  JSON,
  Math,
  Reflect,
].flatMap((one) => ('prototype' in one ? [one, one.prototype] : [one]) as object[])

/** Returns all that JavaScript's own objects have, in order, to be held against a later look: nothing of it may change. */
export const builtIns = (): unknown[] =>
  BUILT_IN.flatMap((one) =>
    Reflect.ownKeys(one).flatMap((name) => {
      const { value, get, set } = Object.getOwnPropertyDescriptor(one, name)!
      return [name, value, get, set]
    }),
  )
