import type { ById } from './order.ts'

/** Paper formats of a report. */
export const PAPERS = ['a4', 'letter'] as const
export type Paper = (typeof PAPERS)[number]

/** Styles of a paragraph. Each item of a list is a paragraph of its own, so that edits of two items never meet. */
export const TEXT_STYLES = ['paragraph', 'heading', 'subheading', 'bullet', 'numbered', 'quote'] as const
export type TextStyle = (typeof TEXT_STYLES)[number]

/** Deepest indentation of a list item. */
export const MOST_INDENT = 4

export const TEXT_MARKS = ['bold', 'italic', 'subscript', 'superscript'] as const
export type TextMark = (typeof TEXT_MARKS)[number]

/** What a value of a comparison is. */
export const COMPARED_VALUES = ['expected', 'percent', 'standard-errors'] as const
export type ComparedValue = (typeof COMPARED_VALUES)[number]

/** Statistics of a fit that a report can show. */
export const FIT_STATISTICS = ['rmse', 'r-squared', 'reduced-chi-square', 'points'] as const
export type FitStatistic = (typeof FIT_STATISTICS)[number]

/** What a live value can show of a column of a series. */
export const COLUMN_STATISTICS = ['mean', 'weighted-mean', 'deviation'] as const
export type ColumnStatistic = (typeof COLUMN_STATISTICS)[number]

/** The number or name that a live value in a text shows. In a report of a series, fits and calculations are those of the series. */
export type ValueSource =
  | { of: 'reading'; fit: string; reading: string }
  | { of: 'parameter'; fit: string; parameter: string }
  | { of: 'statistic'; fit: string; statistic: FitStatistic }
  | { of: 'fit-comparison'; fit: string; value: ComparedValue }
  | { of: 'calculation'; calculation: string }
  | { of: 'calculation-comparison'; calculation: string; value: ComparedValue }
  | { of: 'reference'; reference: string }
  | { of: 'constant'; constant: string }
  | { of: 'probe'; probe: string }
  | { of: 'mass'; body: string }
  | { of: 'marks'; body: string }
  | { of: 'body-name'; body: string }
  | { of: 'scale' }
  | { of: 'frame-rate' }
  | { of: 'free-fall' }
  | { of: 'title' }
  /** A column of a series. */
  | { of: 'column'; column: string; statistic: ColumnStatistic }
  /** What one trial of a series has in a column. */
  | { of: 'cell'; trial: string; column: string }
  /** The number of trials of a series that count. */
  | { of: 'trials' }

/** Which part of a value is shown. */
export const VALUE_PARTS = ['measurement', 'value', 'error', 'unit', 'percent-error'] as const
export type ValuePart = (typeof VALUE_PARTS)[number]

/** How a live value is written. */
export interface ValueFormat {
  part: ValuePart
  /** Significant digits; null: as the error says. */
  digits: number | null
  withUnit: boolean
}

/** A value as it is measured: with its error and its unit. */
export const AS_MEASURED: ValueFormat = { part: 'measurement', digits: null, withUnit: true }

/** A piece of a paragraph. */
export type Inline =
  /** Text in one style. */
  | { kind: 'text'; text: string; marks: TextMark[]; link: string | null }
  /** A number that follows its source. */
  | { kind: 'value'; source: ValueSource; format: ValueFormat }
  | { kind: 'equation'; tex: string }
  /** The number of a figure, a table or an equation: the id of its block. */
  | { kind: 'reference'; block: string }
  | { kind: 'line-break' }

/** What a figure has besides its picture. */
interface FigureText {
  /** Null: written from the data. */
  caption: string | null
  /** Text for people who can't see it; null: written from the data. */
  alternative: string | null
}

/** What is seen along an axis, in the unit that is kept; null: as the graph has it. */
export interface AxisRange {
  from: number | null
  to: number | null
}

/** Returns the range of an axis that is seen as the graph has it. */
export const wholeRange = (): AxisRange => ({ from: null, to: null })

/** Width of a figure as a share of the page's text width. */
export const FIGURE_WIDTHS = { least: 0.25, most: 1 } as const

/** How motions of several trials are drawn over each other: as a graph, or as all marks in one still. */
export const MOTION_FORMS = ['graph', 'still'] as const
export type MotionForm = (typeof MOTION_FORMS)[number]

/**
 * What a block of a report shows, without its place and its pin. In a report of a series, graphs, fits and calculations are those of
 * the series.
 */
export type BlockContent =
  | { kind: 'text'; style: TextStyle; indent: number; inlines: Inline[] }
  | { kind: 'equation'; tex: string }
  | ({
      kind: 'graph'
      graph: string
      width: number
      /** Height over width. */
      ratio: number
      /** Title above it; null: none. */
      title: string | null
      fits: boolean
      /** Null: as the graph has them. */
      errorBars: boolean | null
      /** What is seen along its axes. */
      rangeX: AxisRange
      rangeY: AxisRange
    } & FigureText)
  | ({ kind: 'frame'; frame: number; width: number } & FigureText)
  | ({
      kind: 'chronophotograph'
      width: number
      every: number
      arrows: 'none' | 'velocity' | 'acceleration' | 'momentum'
      grid: boolean
    } & FigureText)
  /** A picture from a file. */
  | ({ kind: 'image'; name: string; data: string; width: number } & FigureText)
  | { kind: 'fit'; fit: string; parameters: boolean; closeness: boolean; residuals: boolean }
  | { kind: 'reading'; fit: string; reading: string; budget: boolean }
  | { kind: 'comparison'; fit: string }
  | { kind: 'calculation-comparison'; calculation: string }
  | { kind: 'calculation'; calculation: string; budget: boolean }
  | {
      kind: 'table'
      bodies: string[]
      /** Ids of columns. */
      columns: string[]
      /** Number of evenly spaced rows; null: a row per mark. */
      rows: number | null
      /** Rounds values to their errors. */
      rounded: boolean
      errors: boolean
      caption: string | null
    }
  /** The table of the trials of a series. */
  | {
      kind: 'trials'
      /** Ids of columns; null: all. */
      columns: string[] | null
      /** With the mean and the standard deviation below. */
      statistics: boolean
      errors: boolean
      caption: string | null
    }
  /** The mean of a column of a series, with its scatter. */
  | { kind: 'mean'; column: string; budget: boolean }
  /** Motions of the trials of a series over each other. */
  | ({ kind: 'motions'; motion: string; form: MotionForm; width: number; ratio: number } & FigureText)
  /** How it was measured. */
  | {
      kind: 'method'
      /** Null: written from the facts. */
      text: string | null
      /** The paragraph from the facts when `text` was typed: it tells whether they have changed since. */
      facts: string
    }
  | { kind: 'question'; question: string; answer: Inline[] }
  | { kind: 'page-break' }
  /** A block of a kind that this version does not know, as JSON text. */
  | { kind: 'unknown'; original: string }

/** A block as it was when somebody pinned it. */
export interface Pin {
  /** ISO 8601 in UTC. */
  at: string
  /** What it showed: JSON text of its content in `words/src/report`. */
  shown: string
}

export type Block = { order: number; pin: Pin | null } & BlockContent
export type BlockKind = Block['kind']

/** What a block showed when the report was printed last. */
export interface PrintedBlock {
  /** In words, to be shown beside what it shows now. */
  text: string
  /** Changes with anything that it shows, such as a point of a graph. */
  digest: string
}

/** The write-up of an investigation, or of a series. */
export interface Report {
  /** Empty: the title of the document. */
  title: string
  /** Name and course above the title, as typed. */
  author: string
  /** Date above the title, as typed. */
  date: string
  paper: Paper
  blocks: ById<Block>
  /** Null: not printed yet. */
  printed: { at: string; blocks: Record<string, PrintedBlock> } | null
}

/** A document that has a report: an investigation, or a series. */
export interface Reported {
  title: string
  report: Report
}

/** Characters of a picture that a report keeps, as a data URL: 450 kB. */
const MOST_PHOTO = 600_000

/** Returns true if a text is a picture that a report can keep: a JPEG or PNG as a data URL, not too long. */
export function isPhotoData(data: string): boolean {
  return data.length <= MOST_PHOTO && /^data:image\/(jpeg|png);base64,[A-Za-z0-9+/]+={0,2}$/.test(data)
}

/** Characters of TeX that an equation may have. */
export const MOST_TEX = 2000

/** Returns an empty report. */
export function newReport(): Report {
  return { title: '', author: '', date: '', paper: 'a4', blocks: {}, printed: null }
}

/** Returns true if an address can be linked to. Any other protocol could run a script or load something when it is followed. */
export const isLink = (address: string) => /^(https?:\/\/|mailto:)[^\s]+$/i.test(address)

/** Returns what a block shows, without its place and its pin. */
export function contentOf(block: Block): BlockContent {
  const { order: _order, pin: _pin, ...content } = block
  return content as BlockContent
}

/** Returns text in one style. */
export function plainText(text: string): Inline {
  return { kind: 'text', text, marks: [], link: null }
}
