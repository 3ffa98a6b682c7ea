import type {
  AxisRange,
  Block,
  BlockContent,
  MotionForm,
  TextMark,
  TextStyle,
} from '@apokinema/core/investigation'

/** What a report shows, as plain data: the page, the print and every export are made of it. */

/** A piece of text, with live values and numbers of figures in place. */
export type Run =
  | { kind: 'text'; text: string; marks: TextMark[]; link: string | null }
  /** `isMissing` if its source is gone. */
  | { kind: 'value'; text: string; isMissing: boolean }
  | { kind: 'equation'; tex: string }
  | { kind: 'reference'; text: string; block: string; isMissing: boolean }
  | { kind: 'line-break' }

/** The picture of a figure. A pinned one has its drawing in it. */
export type Picture =
  | {
      of: 'graph'
      graph: string
      ratio: number
      title: string | null
      fits: boolean
      errorBars: boolean | null
      rangeX: AxisRange
      rangeY: AxisRange
    }
  | { of: 'frame'; frame: number }
  | {
      of: 'chronophotograph'
      every: number
      arrows: 'none' | 'velocity' | 'acceleration' | 'momentum'
      grid: boolean
    }
  /** Motions of several trials over each other. */
  | { of: 'motions'; motion: string; form: MotionForm; ratio: number }
  | { of: 'drawing'; svg: string }
  /** As a data URL: a picture from a file, or one of the footage that is pinned. */
  | { of: 'photo'; data: string }

/** A table of texts. */
export interface ShownTable {
  head: Run[][]
  rows: string[][]
}

/** A number as a table shows it, with its error; an en dash stands for none. */
const NUMBER = /^[\d\s.,±−–+\-×·%°()¹²³⁴⁵⁶⁷⁸⁹⁰⁻e]*$/

/** Returns for each column of a table whether words stand in it: these begin at the left, numbers end at the right. */
export function wordColumns({ head, rows }: ShownTable): boolean[] {
  return head.map((_, column) => rows.some((row) => !NUMBER.test(row[column] ?? '')))
}

/** What points are off a curve by. */
export interface ShownResiduals {
  /** Each point's place along the stretch, from 0 to 1, and its residual as a share of the largest size. */
  points: [number, number][]
  /** The largest size, with its unit. */
  most: string
  /** In words, for people who can't see them. */
  alternative: string
}

/** What a block shows. */
export type Shown =
  | { kind: 'text'; style: TextStyle; indent: number; runs: Run[] }
  | { kind: 'equation'; tex: string; label: string }
  | {
      kind: 'figure'
      picture: Picture
      width: number
      label: string
      caption: string
      alternative: string
      digest: string
    }
  /** A result: laws in TeX with the numbers in place, names with values, and sentences. */
  | {
      kind: 'result'
      title: string
      tex: string[]
      rows: [Run[], string][]
      sentences: string[]
      residuals: ShownResiduals | null
    }
  | ({ kind: 'table'; label: string; caption: string } & ShownTable)
  | { kind: 'method'; text: string; hasChanged: boolean }
  | { kind: 'question'; question: string; answer: Run[] }
  | { kind: 'page-break' }
  /** What it showed is gone. */
  | { kind: 'missing'; text: string }
  /** A block of a kind that this version does not know. */
  | { kind: 'unknown' }

/** A block with what it shows. */
export interface ShownBlock {
  id: string
  /** Date of its pin; null if it follows its sources. */
  pinned: string | null
  shown: Shown
}

/** A block of a kind. */
export type Content<K extends BlockContent['kind']> = Extract<Block, { kind: K }>

/** Text in place of a value whose source is gone. */
export const NO_LONGER_THERE = 'no longer there'

/** Shows that what a block was of is gone. */
export const missing = (what: string): Shown => ({
  kind: 'missing',
  text: `This ${what} is no longer there.`,
})

/** Returns text as a piece. */
export const textRun = (text: string, marks: TextMark[] = []): Run => ({
  kind: 'text',
  text,
  marks,
  link: null,
})

/** Returns a symbol as it is set: in italics, with its subscript. */
export function symbolRuns(symbol: string, subscript: string): Run[] {
  return [textRun(symbol, ['italic']), ...(subscript === '' ? [] : [textRun(subscript, ['subscript'])])]
}

/** Returns a piece of text as plain text. */
function runText(run: Run): string {
  switch (run.kind) {
    case 'equation':
      return run.tex
    case 'line-break':
      return '\n'
    default:
      return run.text
  }
}

/** Returns pieces of text as plain text. */
export const runsText = (runs: readonly Run[]): string => runs.map(runText).join('')

/** Returns what a block shows in words: for the list of changes, and for people who can't see a figure. */
export function shownText(shown: Shown): string {
  switch (shown.kind) {
    case 'text':
      return runsText(shown.runs)
    case 'equation':
      return shown.tex
    case 'figure':
      return `${shown.label}: ${shown.alternative}`
    case 'result':
      return [
        shown.title,
        ...shown.rows.map(([name, value]) => `${runsText(name)}: ${value}`),
        ...shown.sentences,
      ].join('. ')
    case 'table':
      return `${shown.label}: ${shown.caption} ${shown.rows.map((row) => row.join(' ')).join('; ')}`
    case 'method':
      return shown.text
    case 'question':
      return `${shown.question} ${runsText(shown.answer)}`
    case 'missing':
      return shown.text
    case 'page-break':
    case 'unknown':
      return ''
  }
}
