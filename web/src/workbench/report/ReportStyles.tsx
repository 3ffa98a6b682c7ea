import type { Paper } from '@apokinema/core/investigation'
import { Global } from '@emotion/react'
import { LIGHT_PALETTE } from '../../theme/palettes.ts'
import { pageStyles } from './pages/pageStyles.ts'

/** Styles of the page and what is on it, on the screen and in print. */
export function ReportStyles({ paper, header }: { paper: Paper; header: string }) {
  return (
    <>
      <Global styles={pageStyles(paper, header)} />
      <Global styles={WRITING} />
    </>
  )
}

/** Styles of what is on the page. Blocks have padding between them and no margins, so that their heights add up. */
const WRITING = {
  '.paper': { fontSize: '11pt', lineHeight: 1.5, textRendering: 'geometricPrecision' },
  '.paper h1': { fontSize: '20pt', fontWeight: 600, lineHeight: 1.25, margin: '2mm 0 5mm' },
  '.paper-head': {
    display: 'flex',
    justifyContent: 'space-between',
    gap: '8mm',
    color: LIGHT_PALETTE.inkMuted,
    fontSize: '10pt',
  },
  '.line-field': { display: 'inline-grid', maxWidth: '100%', minWidth: '6em' },
  '.line-field::after': {
    content: 'attr(data-value)',
    visibility: 'hidden',
    whiteSpace: 'pre',
    gridArea: '1 / 1',
    overflow: 'hidden',
  },
  '.paper-head .line-field:last-of-type input': { textAlign: 'right' },
  '.line-field input': {
    gridArea: '1 / 1',
    font: 'inherit',
    color: 'inherit',
    background: 'none',
    border: 0,
    padding: 0,
    minWidth: 0,
    width: '100%',
  },
  '.line-field input::placeholder': { color: 'inherit', opacity: 0.75 },
  '.writing .tiptap': {
    outline: 'none',
    minHeight: '120mm',
    whiteSpace: 'pre-wrap',
    overflowWrap: 'anywhere',
    counterReset: 'item',
  },
  '.writing .tiptap > *': { display: 'flow-root', paddingBottom: '2.5mm' },
  '.writing .tiptap > h2': { fontSize: '14pt', fontWeight: 600, padding: '6mm 0 2mm' },
  '.writing .tiptap > h3': { fontSize: '12pt', fontWeight: 600, padding: '4mm 0 1mm' },
  '.writing .tiptap > .page-gap': { display: 'block', paddingBottom: 0 },
  '.writing .tiptap > .react-renderer': { paddingBottom: 0 },
  '.writing [data-block]': { display: 'flow-root', marginBottom: '2.5mm' },
  '.writing [data-block="page-break"]': { position: 'relative', marginBottom: 0 },
  '.writing .tiptap > [data-style=bullet], .writing .tiptap > [data-style=numbered]': {
    position: 'relative',
    paddingLeft: '7mm',
    paddingBottom: '1mm',
  },
  ...Object.fromEntries(
    [1, 2, 3, 4].map((indent) => [`.writing [data-indent="${indent}"]`, { marginLeft: `${7 * indent}mm` }]),
  ),
  '.writing [data-style=bullet]::before': { content: '"•"', position: 'absolute', left: '2mm' },
  '.writing [data-style=numbered]': { counterIncrement: 'item' },
  '.writing [data-style=numbered]::before': {
    content: 'counter(item) "."',
    position: 'absolute',
    left: '1mm',
  },
  '.writing :not([data-style=numbered]) + [data-style=numbered], .writing [data-style=numbered]:first-of-type':
    { counterReset: 'item', counterIncrement: 'item' },
  '.writing blockquote': { position: 'relative', paddingLeft: '4mm', color: LIGHT_PALETTE.inkMuted },
  '.writing blockquote::before': {
    content: '""',
    position: 'absolute',
    inset: '0 auto 2.5mm 0',
    borderLeft: `3px solid ${LIGHT_PALETTE.line}`,
  },
  '.writing a': { color: LIGHT_PALETTE.petrol, textDecoration: 'underline' },
  '.writing p.is-editor-empty:first-of-type::before, .writing p.is-empty::before': {
    content: 'attr(data-placeholder)',
    color: LIGHT_PALETTE.inkMuted,
    float: 'left',
    height: 0,
    pointerEvents: 'none',
  },
  '.paper .value, .paper dd': { whiteSpace: 'nowrap' },
  '.paper .value': {
    background: LIGHT_PALETTE.petrolTint,
    borderRadius: '3px',
    // No padding: lines break where they do in print.
    boxShadow: `-2px 0 ${LIGHT_PALETTE.petrolTint}, 2px 0 ${LIGHT_PALETTE.petrolTint}`,
    whiteSpace: 'nowrap',
    fontVariantNumeric: 'tabular-nums',
  },
  '.paper .reference': { color: LIGHT_PALETTE.petrol },
  '.paper .gone': { color: LIGHT_PALETTE.alarm, fontStyle: 'italic' },
  '.paper .chip.ProseMirror-selectednode, .paper .selected': {
    outline: `2px solid ${LIGHT_PALETTE.petrol}`,
    outlineOffset: '2px',
    borderRadius: '4px',
  },
  '.fixed-block': { cursor: 'default', borderRadius: '4px', whiteSpace: 'normal' },
  '.paper figure': { margin: '3mm auto 1.5mm', width: 'var(--width, 100%)' },
  '.paper figcaption': { fontSize: '9.5pt', color: LIGHT_PALETTE.inkMuted, marginTop: '1mm' },
  '.paper figcaption b': { color: LIGHT_PALETTE.ink },
  '.still': { width: '44px', height: '32px' },
  '.picture canvas, .picture img': { width: '100%', height: 'auto', display: 'block' },
  // Writing in one block lays out no other.
  '.graph-picture': { position: 'relative', contain: 'layout style' },
  '.paper.fluid .block-handle': { display: 'none' },
  '.paper.fluid .result dt': { minWidth: '18mm' },
  '.paper.fluid dd': { whiteSpace: 'normal' },
  '.graph-picture .room': { width: '100%', display: 'block' },
  '.graph-picture .drawing': { position: 'absolute', inset: 0, contain: 'strict' },
  '.drawing svg': { width: '100%', height: 'auto', display: 'block' },
  '.paper table': {
    borderCollapse: 'collapse',
    width: '100%',
    fontSize: '9.5pt',
    fontVariantNumeric: 'tabular-nums',
  },
  '.paper th, .paper td': {
    textAlign: 'right',
    padding: '0.6mm 2mm',
    borderBottom: `0.5px solid ${LIGHT_PALETTE.line}`,
  },
  '.paper :is(th, td).words': { textAlign: 'left' },
  '.paper th': { borderBottom: `1px solid ${LIGHT_PALETTE.ink}`, fontWeight: 600 },
  '.result': { borderLeft: `3px solid ${LIGHT_PALETTE.petrol}`, paddingLeft: '4mm', margin: '2mm 0 1mm' },
  '.result-title': { fontWeight: 600 },
  '.residuals': { maxWidth: '130mm', margin: '1mm 0' },
  '.result dl > div': { display: 'flex', gap: '4mm' },
  '.result dt': { minWidth: '34mm', color: LIGHT_PALETTE.inkMuted },
  '.result dd': { margin: 0, fontVariantNumeric: 'tabular-nums' },
  '.display-equation': {
    display: 'flex',
    alignItems: 'center',
    position: 'relative',
    overflowX: 'auto',
    overflowY: 'hidden',
  },
  '.display-equation > div': { flex: 1 },
  '.result .display-equation .katex-display': { textAlign: 'left', margin: '1mm 0' },
  '.result .display-equation .katex-display > .katex': { textAlign: 'left' },
  '.question-block': { border: `1px solid ${LIGHT_PALETTE.line}`, borderRadius: '6px', padding: '3mm' },
  '.question-block textarea': {
    font: 'inherit',
    fontWeight: 600,
    width: '100%',
    border: 0,
    background: 'none',
    resize: 'none',
    fieldSizing: 'content',
  },
  '.question-block .answer': { minHeight: '14mm' },
  '.paper .question': { fontWeight: 600 },
  '.paper .note, .paper .pinned': { fontSize: '9pt', color: LIGHT_PALETTE.inkMuted },
  '@media print': {
    'html, body, #root': { height: 'auto !important', background: '#FFFFFF' },
    'header:not(.paper-head), aside, .tools, [data-save-notice], [role=status]': {
      display: 'none !important',
    },
    '[data-report], [data-report] main, .desk, #root > div, #root > div > div': {
      display: 'block !important',
      height: 'auto !important',
      overflow: 'visible !important',
      background: 'none !important',
    },
    '.paper .value': { background: 'none', boxShadow: 'none' },
    '.paper .selected, .chip.ProseMirror-selectednode': { outline: 'none !important' },
    '.writing p.is-empty::before': { display: 'none' },
    // They keep their room, so that pages break where they do on the screen.
    '.paper .pinned, .paper .note': { visibility: 'hidden' },
    '.line-field input::placeholder': { color: 'transparent' },
    '.paper h1 .line-field input::placeholder': { color: LIGHT_PALETTE.ink, opacity: 1 },
  },
} as const
