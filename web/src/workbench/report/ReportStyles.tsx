import type { Paper } from '@apokinema/core/investigation'
import { Global } from '@emotion/react'
import { PAINT } from '../../theme/system.ts'
import { MARGIN, PAPER_SIZE } from './pageSize.ts'

/** Styles of the page, on the screen and in print. */
export function ReportStyles({ paper }: { paper: Paper }) {
  const { width, height } = PAPER_SIZE[paper]
  return (
    <Global
      styles={{
        '@page': {
          size: paper === 'a4' ? 'A4' : 'letter',
          margin: `${MARGIN}mm`,
          '@bottom-center': {
            content: 'counter(page) " / " counter(pages)',
            fontSize: '9pt',
            color: PAINT.inkMuted,
          },
        },
        '.paper': {
          width: `${width}mm`,
          minHeight: `${height}mm`,
          maxWidth: '100%',
          margin: '18px auto 60px',
          padding: `16mm ${MARGIN}mm ${MARGIN}mm`,
          background: '#FFFFFF',
          boxShadow: '0 1px 6px rgba(0,0,0,0.14)',
          fontSize: '11pt',
          lineHeight: 1.5,
        },
        '.paper h1': { fontSize: '20pt', fontWeight: 600, lineHeight: 1.25, margin: '2mm 0 5mm' },
        '.paper h2': { fontSize: '14pt', fontWeight: 600, margin: '6mm 0 2mm' },
        '.paper h3': { fontSize: '12pt', fontWeight: 600, margin: '4mm 0 1mm' },
        '.paper-head': {
          display: 'flex',
          justifyContent: 'space-between',
          gap: '8mm',
          color: PAINT.inkMuted,
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
        '.writing .tiptap > *': { marginBottom: '2.5mm' },
        '.writing [data-style=bullet], .writing [data-style=numbered]': {
          position: 'relative',
          paddingLeft: '7mm',
          marginBottom: '1mm',
        },
        ...Object.fromEntries(
          [1, 2, 3, 4].map((indent) => [
            `.writing [data-indent="${indent}"]`,
            { marginLeft: `${7 * indent}mm` },
          ]),
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
        '.writing blockquote': {
          borderLeft: `3px solid ${PAINT.line}`,
          paddingLeft: '4mm',
          color: PAINT.inkMuted,
        },
        '.writing a': { color: PAINT.petrol, textDecoration: 'underline' },
        '.writing p.is-editor-empty:first-of-type::before, .writing p.is-empty::before': {
          content: 'attr(data-placeholder)',
          color: PAINT.inkMuted,
          float: 'left',
          height: 0,
          pointerEvents: 'none',
        },
        '.paper .value, .paper dd': { whiteSpace: 'nowrap' },
        '.paper .value': {
          background: PAINT.petrolTint,
          borderRadius: '3px',
          padding: '0 3px',
          whiteSpace: 'nowrap',
          fontVariantNumeric: 'tabular-nums',
        },
        '.paper .reference': { color: PAINT.petrol },
        '.paper .gone': { color: PAINT.alarm, fontStyle: 'italic' },
        '.paper .chip.ProseMirror-selectednode, .paper .selected': {
          outline: `2px solid ${PAINT.petrol}`,
          outlineOffset: '2px',
          borderRadius: '4px',
        },
        '.fixed-block': { cursor: 'default', borderRadius: '4px', whiteSpace: 'normal' },
        '.paper figure': { margin: '4mm auto', width: 'var(--width, 100%)' },
        '.paper figcaption': { fontSize: '9.5pt', color: PAINT.inkMuted, marginTop: '1mm' },
        '.paper figcaption b': { color: PAINT.ink },
        '.picture canvas, .picture img': { width: '100%', height: 'auto', display: 'block' },
        '.graph-picture': { position: 'relative' },
        '.graph-picture .room': { width: '100%', display: 'block' },
        '.graph-picture .drawing': { position: 'absolute', inset: 0 },
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
          borderBottom: `0.5px solid ${PAINT.line}`,
        },
        '.paper th': { borderBottom: `1px solid ${PAINT.ink}`, fontWeight: 600 },
        '.result': { borderLeft: `3px solid ${PAINT.petrol}`, paddingLeft: '4mm', margin: '3mm 0' },
        '.result-title': { fontWeight: 600 },
        '.result dl > div': { display: 'flex', gap: '4mm' },
        '.result dt': { minWidth: '34mm', color: PAINT.inkMuted },
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
        '.question-block': { border: `1px solid ${PAINT.line}`, borderRadius: '6px', padding: '3mm' },
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
        '.paper .note, .paper .pinned': { fontSize: '9pt', color: PAINT.inkMuted },
        '.page-break': {
          borderTop: `1px dashed ${PAINT.inkMuted}`,
          color: PAINT.inkMuted,
          fontSize: '9pt',
          textAlign: 'center',
        },
        '@media (max-width: 800px)': { '.paper': { padding: '6mm', minHeight: 0 } },
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
          '.paper': { width: 'auto', minHeight: 0, margin: 0, padding: 0, boxShadow: 'none' },
          '.paper .value': { background: 'none', padding: 0 },
          '.paper .selected, .chip.ProseMirror-selectednode': { outline: 'none !important' },
          '.writing p.is-empty::before, .paper .pinned, .paper .note': { display: 'none' },
          '.line-field input::placeholder': { color: 'transparent' },
          '.paper h1 .line-field input::placeholder': { color: PAINT.ink, opacity: 1 },
          '.paper figure, .result, .question-block, .display-equation, .paper tr': { breakInside: 'avoid' },
          '.paper h2, .paper h3': { breakAfter: 'avoid' },
          '.paper thead': { display: 'table-header-group' },
          '.page-break': { breakAfter: 'page', visibility: 'hidden', height: 0 },
        },
      }}
    />
  )
}
