import type { Paper } from '@apokinema/core/investigation'
import { COLOUR, LIGHT_PALETTE } from '../../../theme/palettes.ts'
import { MARGIN, PAPER_SIZE } from '../pageSize.ts'

/** Space between two pages on the screen, in CSS pixels. */
const BETWEEN = 18
/** Returns text as a string of CSS. */
const cssString = (text: string) =>
  `"${text.replace(/["\\<>{}\p{Cc}]/gu, (letter) => `\\${letter.charCodeAt(0).toString(16)} `)}"`

/**
 * Styles of pages, on the screen and in print.
 *
 * @param header text above every page but the first
 */
export function pageStyles(paper: Paper, header: string) {
  const { width, height } = PAPER_SIZE[paper]
  const small = { fontSize: '9pt', color: LIGHT_PALETTE.inkMuted }
  return {
    '@page': {
      size: paper === 'a4' ? 'A4' : 'letter',
      margin: `${MARGIN}mm`,
      '@top-left': { content: cssString(header), ...small },
      '@bottom-center': { content: 'counter(page) " / " counter(pages)', ...small },
    },
    '@page :first': { '@top-left': { content: 'none' } },
    '.paper': {
      position: 'relative',
      zoom: 'var(--scale, 1)',
      width: `${width}mm`,
      minHeight: `calc(var(--pages, 1) * (${height}mm + ${BETWEEN}px) - ${BETWEEN}px)`,
      margin: '18px auto 60px',
      padding: `${MARGIN}mm`,
      background: LIGHT_PALETTE.panel,
      color: LIGHT_PALETTE.ink,
      colorScheme: 'light',
      boxShadow: '0 1px 6px rgba(0,0,0,0.14)',
      counterReset: 'pages var(--pages, 1)',
    },
    '.paper.fluid': { width: 'auto', minHeight: 0, margin: '10px 10px 60px', padding: '6mm' },
    '.paper:not(.fluid)::after': {
      ...small,
      content: 'counter(pages) " / " counter(pages)',
      position: 'absolute',
      insetInline: 0,
      bottom: 0,
      height: `${MARGIN}mm`,
      lineHeight: `${MARGIN}mm`,
      textAlign: 'center',
    },
    '.paper .page-gap': {
      position: 'relative',
      height: `calc(var(--rest) + ${2 * MARGIN}mm + ${BETWEEN}px)`,
      // Over the shadow beside the page.
      margin: `0 calc(-${MARGIN}mm - 8px)`,
      padding: `0 calc(${MARGIN}mm + 8px)`,
      background: `linear-gradient(${COLOUR.desk}, ${COLOUR.desk}) 0 calc(var(--rest) + ${MARGIN}mm) / 100% ${BETWEEN}px no-repeat`,
      cursor: 'default',
      userSelect: 'none',
    },
    '.paper .page-gap::before, .paper .page-gap::after': {
      ...small,
      position: 'absolute',
      height: `${MARGIN}mm`,
      lineHeight: `${MARGIN}mm`,
      insetInline: `calc(${MARGIN}mm + 8px)`,
      whiteSpace: 'nowrap',
      overflow: 'hidden',
    },
    '.paper .page-gap::before': {
      content: 'attr(data-page) " / " counter(pages)',
      top: 'var(--rest)',
      textAlign: 'center',
    },
    '.paper .page-gap::after': { content: cssString(header), bottom: 0, textAlign: 'left' },
    '.paper .page-gap-row td': { border: 0, padding: 0 },
    '.page-break': {
      position: 'absolute',
      insetInline: 0,
      transform: 'translateY(-50%)',
      display: 'flex',
      alignItems: 'center',
      gap: '3mm',
      lineHeight: 1.2,
      ...small,
    },
    '.page-break::before, .page-break::after': {
      content: '""',
      flex: 1,
      borderTop: `1px dashed ${LIGHT_PALETTE.inkMuted}`,
    },
    '@media print': {
      '.paper': {
        zoom: '1',
        width: 'auto',
        minHeight: 0,
        margin: 0,
        padding: 0,
        boxShadow: 'none',
      },
      '.paper::after, .page-gap::before, .page-gap::after': { display: 'none !important' },
      '.paper .page-gap': { height: 0, margin: 0, padding: 0, background: 'none', breakAfter: 'page' },
      '.paper .page-gap-row': { display: 'none' },
      '.paper .head-again + tr': { breakBefore: 'page' },
      '.page-break': { visibility: 'hidden' },
      '.paper.fluid .page-break': { breakAfter: 'page' },
      '.paper figure.whole, .result, .question-block, .display-equation, .paper tr': {
        breakInside: 'avoid',
      },
      '.paper h2, .paper h3': { breakAfter: 'avoid' },
      '.paper thead': { display: 'table-header-group' },
    },
  } as const
}
