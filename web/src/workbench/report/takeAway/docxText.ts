import type { TextStyle } from '@apokinema/core/investigation'
import { type Run, runsText } from '@apokinema/words/report/shown'
import {
  convertMillimetersToTwip,
  ExternalHyperlink,
  HeadingLevel,
  ImportedXmlComponent,
  type IParagraphOptions,
  Paragraph,
  type ParagraphChild,
  SimpleField,
  TextRun,
} from 'docx'
import { mml2omml } from 'mathml2omml'
import { mathML } from '../tex.ts'
import type { TextGroup } from './reportFile.ts'

/** Indentation of a quote, and of each level of a list. */
export const INDENT = convertMillimetersToTwip(7)
/** Name of the numbering of lists. */
export const NUMBERED = 'numbered'

/** Returns an equation as Word has it. Word refuses a file with what the conversion leaves empty or undefined, so that is removed. */
export function wordEquation(tex: string): ParagraphChild {
  const math = mathML(tex, true)
  if (math === null) return new TextRun(tex)
  const omml = mml2omml(math.replace(/<annotation[\s\S]*?<\/annotation>/g, ''))
    .replace(/<w:rPr\s*\/>/g, '')
    .replace(/<m:sty m:val="undefined"\s*\/>/g, '')
  return ImportedXmlComponent.fromXmlString(omml) as unknown as ParagraphChild
}

/** Returns the name of the bookmark on a block's number. Word allows 40 letters and digits. */
export const bookmarkOf = (id: string) => `b${id.replace(/-/g, '')}`

function textPieces(run: Run): ParagraphChild[] {
  switch (run.kind) {
    case 'line-break':
      return [new TextRun({ break: 1 })]
    case 'equation':
      return [wordEquation(run.tex)]
    case 'value':
      return [new TextRun({ text: run.text, ...(run.isMissing && { italics: true }) })]
    case 'reference':
      return run.isMissing
        ? [new TextRun({ text: run.text, italics: true })]
        : [new SimpleField(`REF ${bookmarkOf(run.block)} \\h`, run.text)]
    case 'text': {
      // What is not so is left out: a plain run in a heading would not be bold.
      const text = new TextRun({
        text: run.text,
        ...(isRightToLeft(run.text) && { rightToLeft: true }),
        ...(run.marks.includes('bold') && { bold: true }),
        ...(run.marks.includes('italic') && { italics: true }),
        ...(run.marks.includes('subscript') && { subScript: true }),
        ...(run.marks.includes('superscript') && { superScript: true }),
        ...(run.link !== null && { style: 'Hyperlink' }),
      })
      return run.link === null ? [text] : [new ExternalHyperlink({ link: run.link, children: [text] })]
    }
  }
}

/** Returns true if the first letter of a text is of a script that is written from right to left. */
const isRightToLeft = (text: string) =>
  /^\P{L}*[\p{Script=Hebrew}\p{Script=Arabic}\p{Script=Syriac}\p{Script=Thaana}\p{Script=Nko}]/u.test(text)

/** Returns pieces of text as Word has them. */
export const pieces = (runs: readonly Run[]) => runs.flatMap(textPieces)

/**
 * Returns how a paragraph of a style is set.
 *
 * @param list number of the numbered list, each of which begins with 1
 */
function paragraphOptions(style: TextStyle, indent: number, list: number): IParagraphOptions {
  switch (style) {
    case 'heading':
      return { heading: HeadingLevel.HEADING_1 }
    case 'subheading':
      return { heading: HeadingLevel.HEADING_2 }
    case 'bullet':
      return { bullet: { level: indent } }
    case 'numbered':
      return { numbering: { reference: NUMBERED, level: indent, instance: list } }
    case 'quote':
      return { indent: { left: INDENT } }
    case 'paragraph':
      return {}
  }
}

/**
 * Returns a paragraph, or the items of a list.
 *
 * @param list number of the numbered list, each of which begins with 1
 */
export function textParagraphs({ style, items }: TextGroup, list: number): Paragraph[] {
  return items.map(
    ({ indent, runs }) =>
      new Paragraph({
        ...paragraphOptions(style, indent, list),
        ...(isRightToLeft(runsText(runs)) && { bidirectional: true }),
        children: pieces(runs),
      }),
  )
}
