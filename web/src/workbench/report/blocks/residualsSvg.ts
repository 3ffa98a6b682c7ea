import type { ShownResiduals } from '@apokinema/words/report/shown'
import { LIGHT_PALETTE } from '../../../theme/palettes.ts'

const WIDTH = 600
const HEIGHT = 108
const LEFT = 92
/** Above the strip, for its name. */
const TOP = 18
const EDGE = 8

/** Returns text as the content of an XML element. */
const xml = (text: string) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;')

/** Returns residuals as SVG text: what the points are off the curve by, along the stretch. */
export function residualsSvg({ points, most }: ShownResiduals): string {
  const middle = (TOP + HEIGHT) / 2
  const x = (share: number) => (LEFT + EDGE + share * (WIDTH - LEFT - 2 * EDGE)).toFixed(1)
  const y = (share: number) => (middle - share * (middle - TOP - EDGE)).toFixed(1)
  const radius = points.length > 120 ? 1.4 : 2.4
  const label = (share: number, text: string) =>
    `<text x="${LEFT - 4}" y="${Number(y(share)) + 3.5}" text-anchor="end">${xml(text)}</text>`
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" height="${HEIGHT}" font-size="11" font-family="'Instrument Sans Variable', sans-serif" fill="${LIGHT_PALETTE.ink}">`,
    `<path d="M${LEFT} ${TOP}H${WIDTH - 1}V${HEIGHT - 1}H${LEFT}Z" fill="none" stroke="${LIGHT_PALETTE.line}"/>`,
    `<path d="M${LEFT} ${middle}H${WIDTH - 1}" stroke="${LIGHT_PALETTE.inkMuted}"/>`,
    `<text x="${LEFT}" y="11">Residuals along the stretch</text>`,
    label(1, `+${most}`),
    label(0, '0'),
    label(-1, `−${most}`),
    ...points.map(([along, off]) => `<circle cx="${x(along)}" cy="${y(off)}" r="${radius}"/>`),
    '</svg>',
  ].join('')
}
