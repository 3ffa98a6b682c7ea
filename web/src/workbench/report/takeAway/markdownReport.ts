import type { Run, Shown } from '@apokinema/words/report/shown'
import { grouped, type ReportFile, type TextGroup } from './reportFile.ts'

/** Returns text with the characters escaped that Markdown would read as something else. */
function escaped(text: string): string {
  return text
    .replace(/[\\`*_{}[\]<>#|~$^]/g, '\\$&')
    .replace(/^(\s*)([-+]|\d+[.)])(?=\s)/gm, '$1\\$2')
    .replace(/\n/g, '  \n')
}

/** Returns a piece of text with marks around it; tags where Markdown takes marks beside a space or a comma for plain signs. */
function marked(text: string, mark: string, tag: string): string {
  const isWord = /^[\p{L}\p{N}]([\s\S]*[\p{L}\p{N}])?$/u.test(text)
  return isWord ? mark + text + mark : `<${tag}>${text}</${tag}>`
}

function piece(run: Run): string {
  switch (run.kind) {
    case 'line-break':
      return '  \n'
    case 'equation':
      return `$${run.tex}$`
    case 'text': {
      let text = escaped(run.text)
      if (run.marks.includes('subscript')) text = `<sub>${text}</sub>`
      if (run.marks.includes('superscript')) text = `<sup>${text}</sup>`
      if (run.marks.includes('italic')) text = marked(text, '*', 'i')
      if (run.marks.includes('bold')) text = marked(text, '**', 'b')
      return run.link === null ? text : `[${text}](<${run.link}>)`
    }
    default:
      return escaped(run.text)
  }
}

const pieces = (runs: readonly Run[]) => runs.map(piece).join('')

function textLines({ style, items }: TextGroup): string {
  const [{ runs }] = items
  switch (style) {
    case 'heading':
      return `## ${pieces(runs)}`
    case 'subheading':
      return `### ${pieces(runs)}`
    case 'quote':
      return `> ${pieces(runs)}`
    case 'paragraph':
      return pieces(runs)
    default:
      return items
        .map(
          ({ indent, runs: item }) =>
            `${'    '.repeat(indent)}${style === 'bullet' ? '-' : '1.'} ${pieces(item)}`,
        )
        .join('\n')
  }
}

/** Returns a row of a table from cells in Markdown. */
const row = (cells: readonly string[]) =>
  `| ${cells.map((cell) => cell.replace(/\s*\n/g, ' ')).join(' | ')} |`
const displayed = (tex: string) => `$$\n${tex}\n$$`

function content(shown: Shown, picture: string | null): string {
  switch (shown.kind) {
    case 'text':
      return pieces(shown.runs)
    case 'equation':
      return displayed(shown.tex)
    case 'figure':
      return `${picture ? `![${escaped(shown.alternative)}](${picture})\n\n` : ''}**${shown.label}.** ${escaped(shown.caption)}`
    case 'result':
      return [
        `**${escaped(shown.title)}**`,
        ...shown.tex.map(displayed),
        shown.rows.map(([name, value]) => `- ${pieces(name)}: ${escaped(value)}`).join('\n'),
        picture && shown.residuals ? `![${escaped(shown.residuals.alternative)}](${picture})` : '',
        ...shown.sentences.map(escaped),
      ]
        .filter((part) => part !== '')
        .join('\n\n')
    case 'table':
      return [
        `**${shown.label}.** ${escaped(shown.caption)}`,
        '',
        row(shown.head.map(pieces)),
        `|${shown.head.map(() => ' ---: |').join('')}`,
        ...shown.rows.map((cells) => row(cells.map(escaped))),
      ].join('\n')
    case 'method':
      return escaped(shown.text)
    case 'question':
      return `**${escaped(shown.question)}**\n\n${pieces(shown.answer)}`
    case 'page-break':
      return '---'
    case 'missing':
      return `*${escaped(shown.text)}*`
    case 'unknown':
      return ''
  }
}

/** Returns a report as Markdown with the pictures that it names: an SVG for a graph, a PNG for a photo. */
export function markdownReport(file: ReportFile): { text: string; pictures: Record<string, Uint8Array> } {
  const pictures: Record<string, Uint8Array> = {}
  let residuals = 0
  const parts = grouped(file.blocks).map((part) => {
    if ('style' in part) return textLines(part)
    const { id, shown, pinned } = part
    const picture = file.pictures[id]
    let name: string | null = null
    if (picture) {
      const of =
        shown.kind === 'figure' ? shown.label.toLowerCase().replace(' ', '-') : `residuals-${++residuals}`
      name = `pictures/${of}.${picture.svg === null ? 'png' : 'svg'}`
      pictures[name] = picture.svg === null ? picture.png : new TextEncoder().encode(picture.svg)
    }
    const text = content(shown, name)
    return pinned === null ? text : `${text}\n\n*as it was on ${pinned.slice(0, 10)}*`
  })
  const head = [file.author, file.date].filter((line) => line !== '').map(escaped)
  const text = [`# ${escaped(file.title)}`, ...(head.length > 0 ? [head.join(' · ')] : []), ...parts]
    .filter((part) => part !== '')
    .join('\n\n')
  return { text: `${text}\n`, pictures }
}
