import { type Shown, type ShownBlock, type ShownTable, wordColumns } from '@apokinema/words/report/shown'
import {
  AlignmentType,
  Bookmark,
  BorderStyle,
  convertMillimetersToTwip,
  Document,
  Footer,
  Header,
  HeadingLevel,
  ImageRun,
  LineRuleType,
  Packer,
  PageBreak,
  PageNumber,
  Paragraph,
  type ParagraphChild,
  SimpleField,
  Tab,
  Table,
  TableCell,
  TableRow,
  TabStopType,
  TextRun,
  WidthType,
} from 'docx'
import { MARGIN as MARGIN_MM, PAPER_SIZE } from '../pageSize.ts'
import { bookmarkOf, INDENT, NUMBERED, pieces, textParagraphs, wordEquation } from './docxText.ts'
import { type FilePicture, grouped, type ReportFile } from './reportFile.ts'

const MARGIN = convertMillimetersToTwip(MARGIN_MM)
const GREY = '55625F'
const LINE = { style: BorderStyle.SINGLE, size: 4, color: 'C9C4B5' }
const NONE = { style: BorderStyle.NONE, size: 0, color: 'auto' }

/** Returns "Figure 2" with a number that Word counts itself, as something that texts can refer to. */
function numbered(id: string, label: string): ParagraphChild {
  const [kind, number] = label.split(' ')
  return new Bookmark({
    id: bookmarkOf(id),
    children: [new TextRun(`${kind} `), new SimpleField(`SEQ ${kind} \\* ARABIC`, number)],
  })
}

function caption(id: string, label: string, text: string, keepNext: boolean): Paragraph {
  return new Paragraph({
    style: 'Caption',
    keepNext,
    children: [numbered(id, label), new TextRun(`. ${text}`)],
  })
}

function figure(
  id: string,
  { label, caption: text, alternative }: Extract<Shown, { kind: 'figure' }>,
  picture: FilePicture | undefined,
): Paragraph[] {
  return [...image(picture, label, alternative), caption(id, label, text, false)]
}

/** Returns a paragraph with a picture, if there is one. */
function image(picture: FilePicture | undefined, name: string, description: string): Paragraph[] {
  if (!picture) return []
  return [
    new Paragraph({
      keepNext: true,
      children: [
        new ImageRun({
          type: 'png',
          data: picture.png,
          transformation: { width: picture.width, height: picture.height },
          altText: { name, title: name, description },
        }),
      ],
    }),
  ]
}

function equation(
  id: string,
  { tex, label }: Extract<Shown, { kind: 'equation' }>,
  width: number,
): Paragraph {
  const [, number] = label.split(' ')
  return new Paragraph({
    tabStops: [
      { type: TabStopType.CENTER, position: width / 2 },
      { type: TabStopType.RIGHT, position: width },
    ],
    children: [
      new TextRun({ children: [new Tab()] }),
      wordEquation(tex),
      new TextRun({ children: [new Tab(), '('] }),
      new Bookmark({ id: bookmarkOf(id), children: [new SimpleField('SEQ Equation \\* ARABIC', number)] }),
      new TextRun(')'),
    ],
  })
}

const cell = (children: ParagraphChild[], isLeft = false) =>
  new TableCell({
    margins: { top: 30, bottom: 30, left: 80, right: 80 },
    children: [
      new Paragraph({
        style: 'Cell',
        alignment: isLeft ? AlignmentType.LEFT : AlignmentType.RIGHT,
        children,
      }),
    ],
  })

const BORDERS = {
  top: NONE,
  left: NONE,
  right: NONE,
  bottom: LINE,
  insideVertical: NONE,
  insideHorizontal: LINE,
}

function dataRows(table: ShownTable): Table {
  const { head, rows } = table
  const areWords = wordColumns(table)
  return new Table({
    width: { size: 100, type: WidthType.PERCENTAGE },
    borders: BORDERS,
    rows: [
      new TableRow({
        tableHeader: true,
        cantSplit: true,
        children: head.map((name, i) => cell(pieces(name), areWords[i])),
      }),
      ...rows.map(
        (row) =>
          new TableRow({
            cantSplit: true,
            children: row.map((text, i) => cell([new TextRun(text)], areWords[i])),
          }),
      ),
    ],
  })
}

function result(
  { title, tex, rows, sentences, residuals }: Extract<Shown, { kind: 'result' }>,
  picture: FilePicture | undefined,
): (Paragraph | Table)[] {
  return [
    new Paragraph({ keepNext: true, children: [new TextRun({ text: title, bold: true })] }),
    ...tex.map(
      (one) => new Paragraph({ keepNext: true, indent: { left: INDENT }, children: [wordEquation(one)] }),
    ),
    ...(rows.length > 0
      ? [
          new Table({
            indent: { size: INDENT, type: WidthType.DXA },
            borders: { ...BORDERS, bottom: NONE, insideHorizontal: NONE },
            rows: rows.map(
              ([name, value]) =>
                new TableRow({
                  cantSplit: true,
                  children: [cell(pieces(name), true), cell([new TextRun(value)], true)],
                }),
            ),
          }),
        ]
      : []),
    ...(residuals ? image(picture, 'Residuals', residuals.alternative) : []),
    ...sentences.map((sentence) => new Paragraph({ children: [new TextRun(sentence)] })),
  ]
}

function blockParts(
  { id, shown }: ShownBlock,
  picture: FilePicture | undefined,
  width: number,
): (Paragraph | Table)[] {
  switch (shown.kind) {
    case 'text':
      return [new Paragraph({ children: pieces(shown.runs) })]
    case 'equation':
      return [equation(id, shown, width)]
    case 'figure':
      return figure(id, shown, picture)
    case 'result':
      return result(shown, picture)
    case 'table':
      return [caption(id, shown.label, shown.caption, true), dataRows(shown), new Paragraph({})]
    case 'method':
      return [new Paragraph({ children: [new TextRun(shown.text)] })]
    case 'question':
      return [
        new Paragraph({ keepNext: true, children: [new TextRun({ text: shown.question, bold: true })] }),
        new Paragraph({ children: pieces(shown.answer) }),
      ]
    case 'page-break':
      return [new Paragraph({ children: [new PageBreak()] })]
    case 'missing':
      return [new Paragraph({ children: [new TextRun({ text: shown.text, italics: true })] })]
    case 'unknown':
      return []
  }
}

const heading = (size: number) => ({
  run: { size, bold: true, color: '1D2B2A' },
  paragraph: { spacing: { before: 280, after: 100 }, keepNext: true },
})

/** Returns a report as a DOCX file: headings, lists, tables and equations are Word's own, numbers of figures are fields. */
export async function docxReport(file: ReportFile): Promise<Blob> {
  const { title, author, date, paper, blocks, pictures } = file
  const size = PAPER_SIZE[paper]
  const width = convertMillimetersToTwip(size.width) - 2 * MARGIN
  const children: (Paragraph | Table)[] = [
    new Paragraph({ heading: HeadingLevel.TITLE, children: [new TextRun(title)] }),
  ]
  let list = 0
  for (const part of grouped(blocks)) {
    if ('style' in part) {
      if (part.style === 'numbered') list++
      children.push(...textParagraphs(part, list))
      continue
    }
    children.push(...blockParts(part, pictures[part.id], width))
    if (part.pinned !== null)
      children.push(
        new Paragraph({
          children: [
            new TextRun({ text: `as it was on ${part.pinned.slice(0, 10)}`, italics: true, color: GREY }),
          ],
        }),
      )
  }
  const document = new Document({
    title,
    creator: author || 'Apokinema',
    styles: {
      default: {
        document: {
          run: { font: 'Calibri', size: 22 },
          paragraph: { spacing: { after: 120, line: 300, lineRule: LineRuleType.AUTO } },
        },
        title: { run: { size: 40, bold: true }, paragraph: { spacing: { after: 240 } } },
        heading1: heading(28),
        heading2: heading(24),
      },
      paragraphStyles: [
        {
          id: 'Caption',
          name: 'caption',
          basedOn: 'Normal',
          run: { size: 19, color: GREY },
          paragraph: { spacing: { before: 60, after: 200 } },
        },
        {
          id: 'Cell',
          name: 'Cell',
          basedOn: 'Normal',
          run: { size: 19 },
          paragraph: { spacing: { after: 0, line: 240, lineRule: LineRuleType.AUTO } },
        },
      ],
    },
    numbering: {
      config: [
        {
          reference: NUMBERED,
          levels: [0, 1, 2, 3, 4].map((level) => ({
            level,
            format: 'decimal' as const,
            text: `%${level + 1}.`,
            alignment: AlignmentType.LEFT,
            style: { paragraph: { indent: { left: INDENT * (level + 1), hanging: INDENT } } },
          })),
        },
      ],
    },
    sections: [
      {
        properties: {
          page: {
            size: {
              width: convertMillimetersToTwip(size.width),
              height: convertMillimetersToTwip(size.height),
            },
            margin: { top: MARGIN, bottom: MARGIN, left: MARGIN, right: MARGIN },
          },
        },
        headers: {
          default: new Header({
            children: [
              new Paragraph({
                tabStops: [{ type: TabStopType.RIGHT, position: width }],
                children: [
                  new TextRun({
                    text: [title, author].filter((part) => part !== '').join(' · '),
                    size: 18,
                    color: GREY,
                  }),
                  new TextRun({ children: [new Tab(), date], size: 18, color: GREY }),
                ],
              }),
            ],
          }),
        },
        footers: {
          default: new Footer({
            children: [
              new Paragraph({
                alignment: AlignmentType.CENTER,
                children: [
                  new TextRun({
                    children: [PageNumber.CURRENT, ' / ', PageNumber.TOTAL_PAGES],
                    size: 18,
                    color: GREY,
                  }),
                ],
              }),
            ],
          }),
        },
        children,
      },
    ],
  })
  return Packer.toBlob(document)
}
