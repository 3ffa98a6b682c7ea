import { object, string } from 'yup'
import { analyse, readingOf } from '../analysis/index.ts'
import {
  type Block,
  type BlockContent,
  type ById,
  contentOf,
  type Inline,
  type Investigation,
  inOrder,
  isKeepable,
  isOneLine,
  isPlainObject,
  isUuid,
  LIMITS,
  plainText,
  readBlockContent,
} from '../investigation/index.ts'
import { liveValue } from './liveValues.ts'

/** Kinds of things that blocks and values name by their ids: the names of the fields that hold them. */
const KINDS = ['body', 'graph', 'fit', 'calculation', 'reference', 'probe', 'constant'] as const
type Kind = (typeof KINDS)[number]

/** What a block names, described so that its like is found in another investigation. */
interface Described {
  kind: Kind
  /** Place among the things of its kind, from 0. */
  place: number
  /** What it is: quantity and body of a graph, with the model of a fit; symbol or name of others. The first parts count most. */
  traits: string[]
}

/** A report kept for other investigations. */
export interface ReportTemplate {
  name: string
  /** In order, each with the id by which texts refer to it. */
  blocks: [string, BlockContent][]
  /** What the blocks name, by its id. */
  named: Record<string, Described>
}

/** Text in place of a value whose like there is not. */
const OPEN = '…'

/** Returns the things of a kind in order, each with its traits. */
function thingsOf(document: Investigation, kind: Kind): { id: string; traits: string[] }[] {
  const placeOf = (body: string) => String(inOrder(document.bodies).findIndex(([id]) => id === body))
  const graphTraits = (id: string) => {
    const { quantity, body } = document.graphs[id]
    return [quantity, placeOf(body)]
  }
  const listed = <T extends { order: number }>(all: ById<T>, traits: (thing: T, id: string) => string[]) =>
    inOrder(all).map(([id, thing]) => ({ id, traits: traits(thing, id) }))
  switch (kind) {
    case 'graph':
      return listed(document.graphs, (_, id) => graphTraits(id))
    case 'fit':
      return listed(document.fits, ({ model, stretch }) => [
        model,
        ...graphTraits(document.stretches[stretch].graph),
      ])
    case 'calculation':
      return listed(document.calculations, ({ symbol }) => [symbol])
    case 'constant':
      return listed(document.constants, ({ name }) => [name])
    case 'body':
      return listed(document.bodies, () => [])
    case 'reference':
      return listed(document.references, () => [])
    case 'probe':
      return listed(document.probes, ({ kind: of }) => [of])
  }
}

/** Returns the id of what is most like a description; null if there is nothing of its kind, or it has another symbol. */
function likest(document: Investigation, { kind, place, traits }: Described): string | null {
  const likeness = (thing: { traits: string[] }, at: number) =>
    traits.reduce((sum, trait, i) => sum + (thing.traits[i] === trait ? 2 ** (traits.length - i) : 0), 0) -
    Math.abs(at - place) / 1000
  const things = thingsOf(document, kind).filter(
    // A calculation and a constant are known by their names alone.
    (thing) => (kind !== 'calculation' && kind !== 'constant') || thing.traits[0] === traits[0],
  )
  const [best] = things
    .map((thing, at) => ({ id: thing.id, score: likeness(thing, at) }))
    .sort((a, b) => b.score - a.score)
  return best?.id ?? null
}

/** Returns a copy of an object in which the ids that it names are others; null if one of them has no other. */
function renamed<T extends object>(thing: T, other: (id: string, kind: Kind) => string | null): T | null {
  const copy = { ...thing } as Record<string, unknown>
  for (const kind of KINDS) {
    if (typeof copy[kind] !== 'string') continue
    const id = other(copy[kind], kind)
    if (id === null) return null
    copy[kind] = id
  }
  if (Array.isArray(copy.bodies)) {
    const bodies = new Set(copy.bodies.flatMap((id: string) => other(id, 'body') ?? []))
    if (bodies.size === 0) return null
    copy.bodies = [...bodies]
  }
  return copy as T
}

/** Returns a block as a template keeps it: without answers, and without what was written of this investigation alone. */
function asTemplate(block: Block): BlockContent | null {
  const content = contentOf(block)
  switch (content.kind) {
    case 'unknown':
      return null
    case 'question':
      return { ...content, answer: [] }
    case 'method':
      return { ...content, text: null, facts: '' }
    case 'graph':
    case 'frame':
    case 'chronophotograph':
      return { ...content, caption: null, alternative: null }
    default:
      return content
  }
}

/** Returns the report of an investigation as a template. */
export function templateOf(document: Investigation, name: string): ReportTemplate {
  const blocks = inOrder(document.report.blocks).flatMap(([id, block]): [string, BlockContent][] => {
    const content = asTemplate(block)
    return content ? [[id, content]] : []
  })
  const named: Record<string, Described> = {}
  const note = (id: string, kind: Kind) => {
    const things = thingsOf(document, kind)
    const place = things.findIndex((thing) => thing.id === id)
    if (place >= 0) named[id] = { kind, place, traits: things[place].traits }
    return id
  }
  for (const [, content] of blocks) {
    renamed(content, note)
    if (content.kind === 'text')
      for (const inline of content.inlines) if (inline.kind === 'value') renamed(inline.source, note)
  }
  return { name, blocks, named }
}

/**
 * Returns the blocks of a template for an investigation, linked to what is most like that of the template's own. A block without
 * anything like it is left out, a value becomes "…".
 *
 * @param newId returns the id of a block
 */
export function fillTemplate(
  document: Investigation,
  { blocks, named }: ReportTemplate,
  newId: () => string,
): [string, BlockContent][] {
  const other = (id: string) => (Object.hasOwn(named, id) ? likest(document, named[id]) : null)
  const kept = blocks.flatMap(([id, content]): [string, BlockContent][] => {
    const linked = renamed(content, other)
    return linked && isThere(document, linked) ? [[id, linked]] : []
  })
  const ids = new Map(kept.map(([id]) => [id, newId()]))
  const inlineOf = (inline: Inline): Inline[] => {
    if (inline.kind === 'reference') {
      const block = ids.get(inline.block)
      return block === undefined ? [] : [{ kind: 'reference', block }]
    }
    if (inline.kind !== 'value') return [inline]
    const source = renamed(inline.source, other)
    return [source && liveValue(document, source) ? { ...inline, source } : plainText(OPEN)]
  }
  return kept.map(([id, content]) => [
    ids.get(id)!,
    content.kind === 'text' ? { ...content, inlines: content.inlines.flatMap(inlineOf) } : content,
  ])
}

/** Returns true if an investigation has what a block shows. */
function isThere(document: Investigation, content: BlockContent): boolean {
  if (content.kind === 'frame' || content.kind === 'chronophotograph') return document.footage !== null
  if (content.kind !== 'reading') return true
  const fit = analyse(document).fit(content.fit)
  return !!fit && readingOf(fit, content.reading) !== null
}

function isDescribed(value: unknown): value is Described {
  if (!isPlainObject(value) || Object.keys(value).length !== 3) return false
  const { kind, place, traits } = value
  return (
    KINDS.some((one) => one === kind) &&
    Number.isInteger(place) &&
    Array.isArray(traits) &&
    traits.length <= 3 &&
    traits.every((trait) => typeof trait === 'string' && trait.length <= 200 && isKeepable(trait))
  )
}

const head = object({
  name: string()
    .strict()
    .trim()
    .required()
    .max(100)
    .test('one-line', (name) => isOneLine(name)),
}).required()

/**
 * Returns a template from outside.
 *
 * @throws RangeError if it is none
 */
export function readTemplate(value: unknown): ReportTemplate {
  const { blocks, named } = isPlainObject(value) ? value : {}
  const isTemplate =
    head.isValidSync(value) &&
    isPlainObject(value) &&
    Object.keys(value).length === 3 &&
    Array.isArray(blocks) &&
    blocks.length > 0 &&
    blocks.length <= LIMITS.blocks &&
    blocks.every(
      (block: unknown) =>
        Array.isArray(block) && block.length === 2 && isUuid(block[0]) && readBlockContent(block[1]) !== null,
    ) &&
    isPlainObject(named) &&
    Object.keys(named).length <= LIMITS.blocks &&
    Object.keys(named).every(isUuid) &&
    Object.values(named).every(isDescribed)
  if (!isTemplate) throw new RangeError('this is no template of a report')
  return value as unknown as ReportTemplate
}
