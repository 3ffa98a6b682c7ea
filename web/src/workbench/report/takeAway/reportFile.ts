import type { Paper, TextStyle } from '@apokinema/core/investigation'
import type { Run, ShownBlock } from '@apokinema/words/report/shown'

/** A picture of a figure as it goes into a file. */
export interface FilePicture {
  /** In CSS pixels, as it stands on the page. */
  width: number
  height: number
  /** PNG at 300 pixels per inch, or the photo in its own resolution. */
  png: Uint8Array
  /** The same as vectors, without anything that runs or loads; null for a photo. */
  svg: string | null
}

/** A report with all that a file of it needs, as plain data. */
export interface ReportFile {
  title: string
  author: string
  date: string
  paper: Paper
  blocks: ShownBlock[]
  /** Pictures of the figures, by ids of their blocks. */
  pictures: Record<string, FilePicture>
}

/** Paragraphs that stand together: a list, or one paragraph by itself. */
export interface TextGroup {
  style: TextStyle
  items: { id: string; indent: number; runs: Run[] }[]
}

/** Returns the blocks in order, with neighbouring items of one list taken together. */
export function grouped(blocks: readonly ShownBlock[]): (ShownBlock | TextGroup)[] {
  const groups: (ShownBlock | TextGroup)[] = []
  for (const block of blocks) {
    const { shown, id } = block
    if (shown.kind !== 'text') {
      groups.push(block)
      continue
    }
    const { style, indent, runs } = shown
    const last = groups.at(-1)
    const isItem = style === 'bullet' || style === 'numbered'
    if (isItem && last && 'style' in last && last.style === style) last.items.push({ id, indent, runs })
    else groups.push({ style, items: [{ id, indent, runs }] })
  }
  return groups
}
