import { type Run, runsText, type Shown, type ShownBlock } from '@apokinema/words/report/shown'
import type { ReactNode } from 'react'
import { renderToStaticMarkup } from 'react-dom/server.browser'
import { MarkedText } from '../blocks/MarkedText.tsx'
import { TableFigure } from '../blocks/TableFigure.tsx'
import { MARGIN, PAPER_SIZE } from '../pageSize.ts'
import { mathML } from '../tex.ts'
import { type FilePicture, grouped, type ReportFile, type TextGroup } from './reportFile.ts'

/** Nothing outside is loaded, and nothing runs. */
const POLICY = "default-src 'none'; img-src data:; style-src 'unsafe-inline'"

const styles = ({ paper }: ReportFile) => `
@page { size: ${paper === 'a4' ? 'A4' : 'letter'}; margin: ${MARGIN}mm; @bottom-center { content: counter(page) " / " counter(pages); font-size: 9pt } }
* { box-sizing: border-box }
body { margin: 0; background: #fff; color: #1d2b2a; font: 11pt/1.5 "Source Sans 3", "Segoe UI", "Helvetica Neue", Arial, sans-serif }
main { max-width: ${PAPER_SIZE[paper].width - 2 * MARGIN}mm; margin: 20mm auto; padding: 0 4mm; overflow-wrap: anywhere }
h1 { font-size: 20pt; line-height: 1.25; margin: 2mm 0 5mm }
h2 { font-size: 14pt; margin: 6mm 0 2mm; break-after: avoid }
h3 { font-size: 12pt; margin: 4mm 0 1mm; break-after: avoid }
p { margin: 0 0 2.5mm; white-space: pre-wrap }
.head { display: flex; justify-content: space-between; gap: 8mm; color: #55625f; font-size: 10pt }
.value { white-space: nowrap }
.gone, .pinned { color: #55625f; font-style: italic }
figure { margin: 3mm 0 4mm; break-inside: avoid }
figure.table { break-inside: auto }
figure svg, figure img, .result svg { display: block; width: 100%; height: auto }
figcaption { font-size: 9.5pt; margin: 1mm 0 }
.equation { display: flex; align-items: center; margin: 3mm 0 }
.math { display: contents }
.equation math { flex: 1 }
table { border-collapse: collapse; font-variant-numeric: tabular-nums; font-size: 9.5pt; width: 100% }
th, td { border-bottom: 1px solid #c9c4b5; padding: 1mm 2mm; text-align: right }
:is(th, td).words { text-align: left }
thead { display: table-header-group }
tr { break-inside: avoid }
.result { border-left: 3px solid #1f6f78; padding-left: 4mm; margin: 3mm 0; break-inside: avoid }
.result p:first-child, .question { font-weight: 600 }
dl { margin: 1mm 0 }
dl div { display: grid; grid-template-columns: 10em 1fr }
dd { margin: 0 }
blockquote { margin: 0 0 2.5mm; padding-left: 4mm; border-left: 3px solid #c9c4b5 }
.page-break { break-after: page }
@media print { main { margin: 0 auto; padding: 0; max-width: none } }
`

/** Returns bytes as a data URL. */
function dataUrl(bytes: Uint8Array): string {
  let binary = ''
  for (let i = 0; i < bytes.length; i += 8192)
    binary += String.fromCharCode(...bytes.subarray(i, Math.min(i + 8192, bytes.length)))
  return `data:image/png;base64,${btoa(binary)}`
}

/** An equation, or its TeX if it can't be typeset. */
function Equation({ tex, isDisplayed }: { tex: string; isDisplayed: boolean }) {
  const math = mathML(tex, isDisplayed)
  if (math === null) return tex
  // biome-ignore lint/security/noDangerouslySetInnerHtml: MathML from KaTeX, which escapes its input and executes nothing
  return <span className="math" dangerouslySetInnerHTML={{ __html: math }} />
}

function Piece({ run }: { run: Run }): ReactNode {
  switch (run.kind) {
    case 'line-break':
      return <br />
    case 'equation':
      return <Equation tex={run.tex} isDisplayed={false} />
    case 'value':
      return <span className={run.isMissing ? 'gone' : 'value'}>{run.text}</span>
    case 'reference':
      return run.isMissing ? (
        <span className="gone">{run.text}</span>
      ) : (
        <a href={`#b-${run.block}`}>{run.text}</a>
      )
    case 'text':
      return <MarkedText {...run} />
  }
}

// biome-ignore lint/suspicious/noArrayIndexKey: pieces have no other name
const pieces = (runs: readonly Run[]) => runs.map((run, i) => <Piece key={i} run={run} />)

function TextBlocks({ group: { style, items } }: { group: TextGroup }) {
  const [{ runs }] = items
  switch (style) {
    case 'heading':
      return <h2 dir="auto">{pieces(runs)}</h2>
    case 'subheading':
      return <h3 dir="auto">{pieces(runs)}</h3>
    case 'quote':
      return <blockquote dir="auto">{pieces(runs)}</blockquote>
    case 'paragraph':
      return <p dir="auto">{pieces(runs)}</p>
    case 'bullet':
    case 'numbered': {
      const List = style === 'bullet' ? 'ul' : 'ol'
      return (
        <List>
          {items.map(({ id, indent, runs: item }) => (
            <li key={id} dir="auto" style={indent > 0 ? { marginLeft: `${7 * indent}mm` } : undefined}>
              {pieces(item)}
            </li>
          ))}
        </List>
      )
    }
  }
}

/** A picture as vectors where there are some. */
function FilePictureView({
  picture: { svg, png },
  alternative,
  width,
}: {
  picture: FilePicture
  alternative: string
  /** Share of the page's width. */
  width: number
}) {
  const style = { width: `${100 * width}%` }
  if (svg === null) return <img src={dataUrl(png)} alt={alternative} style={style} />
  return (
    <div
      role="img"
      aria-label={alternative}
      style={style}
      // biome-ignore lint/security/noDangerouslySetInnerHtml: sanitised before it was handed in
      dangerouslySetInnerHTML={{ __html: svg }}
    />
  )
}

function Figure({
  figure,
  picture,
}: {
  figure: Extract<Shown, { kind: 'figure' }>
  picture: FilePicture | undefined
}) {
  return (
    <>
      {picture && <FilePictureView picture={picture} alternative={figure.alternative} width={figure.width} />}
      <figcaption>
        <b>{figure.label}.</b> {figure.caption}
      </figcaption>
    </>
  )
}

function Content({ shown, picture }: { shown: Shown; picture: FilePicture | undefined }) {
  switch (shown.kind) {
    case 'text':
      return <p dir="auto">{pieces(shown.runs)}</p>
    case 'equation':
      return (
        <div className="equation">
          <Equation tex={shown.tex} isDisplayed />
          <span>({shown.label.replace('Equation ', '')})</span>
        </div>
      )
    case 'figure':
      return <Figure figure={shown} picture={picture} />
    case 'result':
      return (
        <>
          <p>{shown.title}</p>
          {shown.tex.map((tex) => (
            <div key={tex} className="equation">
              <Equation tex={tex} isDisplayed />
            </div>
          ))}
          <dl>
            {shown.rows.map(([name, value]) => (
              <div key={runsText(name)}>
                <dt>{pieces(name)}</dt>
                <dd>{value}</dd>
              </div>
            ))}
          </dl>
          {shown.residuals && picture && (
            <FilePictureView picture={picture} alternative={shown.residuals.alternative} width={1} />
          )}
          {shown.sentences.map((sentence) => (
            <p key={sentence}>{sentence}</p>
          ))}
        </>
      )
    case 'table':
      return <TableFigure table={shown} pieces={pieces} />
    case 'method':
      return <p dir="auto">{shown.text}</p>
    case 'question':
      return (
        <>
          <p className="question" dir="auto">
            {shown.question}
          </p>
          <p dir="auto">{pieces(shown.answer)}</p>
        </>
      )
    case 'page-break':
      return null
    case 'missing':
      return <p className="gone">{shown.text}</p>
    case 'unknown':
      return null
  }
}

const CLASSES: Partial<Record<Shown['kind'], string>> = {
  result: 'result',
  table: 'table',
  'page-break': 'page-break',
}

function BlockPart({
  block: { id, shown, pinned },
  picture,
}: {
  block: ShownBlock
  picture: FilePicture | undefined
}) {
  const Tag = shown.kind === 'figure' || shown.kind === 'table' ? 'figure' : 'div'
  return (
    <Tag id={`b-${id}`} className={CLASSES[shown.kind]}>
      <Content shown={shown} picture={picture} />
      {pinned !== null && <p className="pinned">as it was on {pinned.slice(0, 10)}</p>}
    </Tag>
  )
}

/** Returns a report as one HTML file that loads nothing: graphs as vectors, photos as data, equations as MathML. */
export function htmlReport(file: ReportFile): string {
  const page = (
    <html lang="en">
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <meta httpEquiv="Content-Security-Policy" content={POLICY} />
        <title>{file.title}</title>
        {/* biome-ignore lint/security/noDangerouslySetInnerHtml: no text from outside is in it */}
        <style dangerouslySetInnerHTML={{ __html: styles(file) }} />
      </head>
      <body>
        <main>
          {(file.author || file.date) && (
            <div className="head">
              <span>{file.author}</span>
              <span>{file.date}</span>
            </div>
          )}
          <h1 dir="auto">{file.title}</h1>
          {grouped(file.blocks).map((part) =>
            'style' in part ? (
              <TextBlocks key={part.items[0].id} group={part} />
            ) : (
              <BlockPart key={part.id} block={part} picture={file.pictures[part.id]} />
            ),
          )}
        </main>
      </body>
    </html>
  )
  return `<!doctype html>\n${renderToStaticMarkup(page)}\n`
}
