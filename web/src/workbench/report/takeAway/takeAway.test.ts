import type { Run, ShownBlock } from '@apokinema/words/report/shown'
import { strFromU8, unzipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { docxReport } from './docxReport.ts'
import { htmlReport } from './HtmlReport.tsx'
import { markdownReport } from './markdownReport.ts'
import type { ReportFile } from './reportFile.ts'

/** One pixel. */
const PNG = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='),
  (character) => character.charCodeAt(0),
)
const text = (
  style: 'paragraph' | 'heading' | 'bullet' | 'numbered',
  words: string,
): ShownBlock['shown'] => ({
  kind: 'text',
  style,
  indent: 0,
  runs: [{ kind: 'text', text: words, marks: [], link: null }],
})

const italic = (words: string): Run => ({ kind: 'text', text: words, marks: ['italic'], link: null })

const [FIGURE, TABLE, RESULT] = [1, 2, 3].map((n) => `0b6a1a4e-0000-4000-8000-00000000000${n}`)
const IDS: Partial<Record<ShownBlock['shown']['kind'], string>> = {
  figure: FIGURE,
  table: TABLE,
  result: RESULT,
}
const SHOWN: ShownBlock['shown'][] = [
  text('heading', 'What <happened> & why'),
  {
    kind: 'text',
    style: 'paragraph',
    indent: 0,
    runs: [
      { kind: 'text', text: 'It fell with ', marks: [], link: null },
      { kind: 'value', text: '−9.820 ± 0.020 m/s²', isMissing: false },
      { kind: 'text', text: ', see ', marks: ['italic'], link: null },
      { kind: 'reference', text: 'Figure 1', block: FIGURE, isMissing: false },
      { kind: 'equation', tex: '\\mu' },
      { kind: 'value', text: 'no longer there', isMissing: true },
      { kind: 'text', text: 'more', marks: ['bold'], link: 'https://example.org/a?b=1&c=2' },
    ],
  },
  text('numbered', 'first'),
  text('numbered', 'second'),
  text('paragraph', '# between * lists'),
  text('numbered', 'again'),
  { kind: 'equation', tex: '\\mu = \\frac{F}{N}', label: 'Equation 1' },
  {
    kind: 'figure',
    picture: {
      of: 'graph',
      graph: FIGURE,
      ratio: 0.5,
      title: null,
      fits: true,
      errorBars: null,
      rangeX: { from: null, to: null },
      rangeY: { from: null, to: null },
    },
    width: 0.5,
    label: 'Figure 1',
    caption: 'Position along y.',
    alternative: 'A parabola "with" 24 points.',
    digest: '',
  },
  {
    kind: 'table',
    label: 'Table 1',
    caption: 'Motion | of the float.',
    head: [
      [italic('t'), { kind: 'text', text: ' (s)', marks: [], link: null }],
      [italic('v'), { kind: 'text', text: 'y', marks: ['subscript'], link: null }],
    ],
    rows: [
      ['0.0000', '0.88'],
      ['0.0167', '0.91'],
    ],
  },
  {
    kind: 'result',
    title: 'Fit',
    tex: ['a = -9.82\\,\\mathrm{m/s^2}'],
    rows: [[[italic('a')], '−9.820 ± 0.020 m/s²']],
    sentences: ['It agrees.'],
    residuals: { points: [[0, 1]], most: '2 mm', alternative: 'Residuals of 24 points' },
  },
  {
    kind: 'question',
    question: 'What slowed it?',
    answer: [{ kind: 'text', text: 'The air.', marks: [], link: null }],
  },
  { kind: 'page-break' },
  { kind: 'missing', text: 'This graph is no longer there.' },
  { kind: 'unknown' },
]
const FILE: ReportFile = {
  title: 'Net float <script>alert(1)</script>',
  author: 'Ida, 10b',
  date: '30 November',
  paper: 'a4',
  blocks: SHOWN.map((shown, i) => ({
    id: IDS[shown.kind] ?? `0b6a1a4e-0000-4000-8000-0000000001${10 + i}`,
    pinned: shown.kind === 'result' ? '2026-11-30T10:00:00Z' : null,
    shown,
  })),
  pictures: {
    [FIGURE]: { width: 320, height: 160, png: PNG, svg: '<svg viewBox="0 0 2 1"><path d="M0 0"/></svg>' },
    [RESULT]: { width: 640, height: 96, png: PNG, svg: '<svg viewBox="0 0 2 1"><path d="M7 7"/></svg>' },
  },
}

describe('a report as HTML', () => {
  const html = htmlReport(FILE)

  it('escapes all text and loads nothing', () => {
    expect(html).toContain('What &lt;happened&gt; &amp; why')
    expect(html).not.toContain('<script')
    expect(html).toContain('default-src &#x27;none&#x27;;')
    expect(html).not.toMatch(/(src|href)="(?!https:\/\/example\.org|#|data:)/)
  })

  it('has numbers, vectors with their alternative text, MathML and real tables', () => {
    expect(html).toContain('−9.820 ± 0.020 m/s²')
    expect(html).toContain('role="img" aria-label="A parabola &quot;with&quot; 24 points."')
    expect(html).toContain('<path d="M0 0"/>')
    expect(html).toMatch(/aria-label="Residuals of 24 points"[^>]*><svg [^>]*><path d="M7 7"/)
    expect(html).toContain('<mfrac><mi>F</mi><mi>N</mi></mfrac>')
    expect(html).toContain('<th scope="col"><i>t</i> (s)</th><th scope="col"><i>v</i><sub>y</sub></th>')
    expect(html).toContain(`href="#b-${FIGURE}"`)
    expect(html).toContain(`id="b-${FIGURE}"`)
    expect(html.match(/<ol>/g)).toHaveLength(2)
    expect(html).toContain('as it was on 2026-11-30')
  })

  it('shows a photo as data, with its alternative text', () => {
    const pictures = { [FIGURE]: { ...FILE.pictures[FIGURE], svg: null } }
    expect(htmlReport({ ...FILE, pictures })).toMatch(
      /<img src="data:image\/png;base64,iVBOR[^"]+" alt="A parabola/,
    )
  })
})

describe('a report as Markdown', () => {
  const { text: markdown, pictures } = markdownReport(FILE)

  it('has headings, lists, equations, tables and pictures', () => {
    expect(markdown).toMatch(/^# Net float \\<script\\>/)
    expect(markdown).toContain('\n\n## What \\<happened\\> & why\n\n')
    expect(markdown).toContain('1. first\n1. second\n\n\\# between \\* lists\n\n1. again')
    expect(markdown).toContain('$$\n\\mu = \\frac{F}{N}\n$$')
    expect(markdown).toContain('| *t* (s) | *v*<sub>y</sub> |\n| ---: | ---: |\n| 0.0000 | 0.88 |\n')
    expect(markdown).toContain('Motion \\| of the float')
    expect(markdown).toContain('![A parabola "with" 24 points.](pictures/figure-1.svg)')
    expect(markdown).toContain('[**more**](<https://example.org/a?b=1&c=2>)')
    expect(markdown).toContain('![Residuals of 24 points](pictures/residuals-1.svg)')
    expect(Object.keys(pictures)).toEqual(['pictures/figure-1.svg', 'pictures/residuals-1.svg'])
  })

  it('emphasises by tags where marks would be read as plain signs', () => {
    expect(markdown).toContain('m/s²<i>, see </i>Figure 1')
  })
})

describe('a report as DOCX', () => {
  const parts = async (file: ReportFile = FILE) => {
    const zip = unzipSync(new Uint8Array(await (await docxReport(file)).arrayBuffer()))
    return {
      names: Object.keys(zip),
      document: strFromU8(zip['word/document.xml']),
      styles: strFromU8(zip['word/styles.xml']),
    }
  }

  it('has headings as styles, tables as tables and lists that begin anew', async () => {
    const { document } = await parts()
    expect(document).toMatch(/<w:pStyle w:val="Title"\/>/)
    expect(document).toMatch(/<w:pStyle w:val="Heading1"\/>[\s\S]*?What &lt;happened&gt; &amp; why/)
    expect(document.match(/<w:tbl>/g)).toHaveLength(2)
    expect(document).toContain('<w:tblHeader/>')
    expect(new Set(document.match(/<w:numId w:val="\d+"\/>/g)).size).toBe(2)
    expect(document).toContain('−9.820 ± 0.020 m/s²')
    expect(document).toContain('no longer there')
    // "Not bold" in a run would undo the bold of a heading.
    expect(document).not.toMatch(/<w:(b|i|rtl|bidi) w:val="false"\/>/)
  })

  it('sets text from right to left where it begins so', async () => {
    const shown = text('paragraph', 'שלום, הנמל')
    const { document } = await parts({ ...FILE, blocks: [{ id: RESULT, pinned: null, shown }] })
    expect(document).toMatch(/<w:pPr><w:bidi\/>[\s\S]*<w:rtl\/>[\s\S]*שלום/)
    expect(htmlReport({ ...FILE, blocks: [{ id: RESULT, pinned: null, shown }] })).toContain(
      '<p dir="auto">שלום',
    )
  })

  it('has equations as Word’s own, without what Word refuses', async () => {
    const { document } = await parts()
    expect(document.match(/<m:oMath[ >]/g)).toHaveLength(3)
    expect(document).toMatch(/<m:f>[\s\S]*?<m:num>[\s\S]*?F[\s\S]*?<m:den>[\s\S]*?N/)
    expect(document).not.toContain('undefined')
    expect(document).not.toContain('annotation')
  })

  it('numbers figures, tables and equations by fields that texts refer to', async () => {
    const { document } = await parts()
    for (const kind of ['Figure', 'Table', 'Equation']) expect(document).toContain(`SEQ ${kind} \\* ARABIC`)
    const name = /REF (b[0-9a-f]+) /.exec(document)![1]
    expect(document).toContain(`<w:bookmarkStart w:name="${name}"`)
    expect(name.length).toBeLessThanOrEqual(40)
  })

  it('has pictures with alternative text', async () => {
    const { document, names } = await parts()
    expect(document).toContain('descr="A parabola &quot;with&quot; 24 points."')
    expect(document).toContain('descr="Residuals of 24 points"')
    expect(names.some((name) => /^word\/media\/.+\.png$/.test(name))).toBe(true)
  })

  it('is made of TeX that loops, links or can’t be read all the same', async () => {
    const tex = [
      '\\def\\a{\\a\\a}\\a',
      '\\href{javascript:alert(1)}{x}',
      '\\frac{',
      '',
      '\\includegraphics{https://example.org/x.png}',
    ]
    const blocks = tex.map(
      (one, i): ShownBlock => ({
        id: `0b6a1a4e-0000-4000-8000-00000000020${i}`,
        pinned: null,
        shown: { kind: 'equation', tex: one, label: `Equation ${i + 1}` },
      }),
    )
    const { document } = await parts({ ...FILE, blocks })
    expect(document.match(/SEQ Equation/g)).toHaveLength(5)
    expect(document).not.toMatch(/w:hyperlink|<a:blip/)
    const html = htmlReport({ ...FILE, blocks })
    expect(html).not.toMatch(/href="javascript|<img/)
  })
})
