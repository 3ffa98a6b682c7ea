import type { BodyColour } from '@apokinema/core/investigation'

/**
 * The colours of docs/design.md in both themes, as plain values for canvases and pictures. On the page they are CSS
 * variables (see `COLOUR`), which follow the theme without rendering anew.
 */
export interface Palette {
  /** Grounds: of the page, of what stands on it, of what stands in the light of something chosen, and behind a printed page. */
  paper: string
  panel: string
  chosen: string
  desk: string
  /** Lines: between things, of a graph's grid, its zero, and those that are drawn to be seen. */
  line: string
  grid: string
  zero: string
  outline: string
  ink: string
  inkMuted: string
  /** Words and lines in the product's colour, the ground of a filled button, and grounds with a breath and a hint of it. */
  petrol: string
  petrolSolid: string
  petrolTint: string
  petrolEmphasis: string
  /** The current frame, a warm ground for it, and words in its colour. */
  saffron: string
  saffronTint: string
  saffronText: string
  good: string
  alarm: string
  /** A marker of the size of a vector: neither filled nor hollow. */
  halfFilled: string
  /** A fit's confidence band over the points. */
  band: string
  /** A stretch over a graph: one of several, the chosen one, and one that is being drawn. */
  stretch: string
  stretchChosen: string
  stretchDrawn: string
  /** What dims the frames outside the span. */
  veil: string
  /** The stage is dark in both themes. */
  stage: string
}

export const LIGHT_PALETTE: Palette = {
  paper: '#FAF8F3',
  panel: '#FFFFFF',
  chosen: '#E9E5DA',
  desk: '#EFEBE0',
  line: '#DDD8CC',
  grid: '#ECE8DE',
  zero: '#BFC4B2',
  outline: '#8C8879',
  ink: '#1E2526',
  inkMuted: '#5C6664',
  petrol: '#0F5C5C',
  petrolSolid: '#0F5C5C',
  petrolTint: '#E6F1EF',
  petrolEmphasis: '#A5CBC7',
  saffron: '#D98E04',
  saffronTint: '#FBF0D9',
  saffronText: '#8A5A00',
  good: '#14754E',
  alarm: '#A3271B',
  halfFilled: '#E9E6DC',
  band: 'rgba(30,37,38,0.14)',
  stretch: 'rgba(15,92,92,0.06)',
  stretchChosen: 'rgba(15,92,92,0.11)',
  stretchDrawn: 'rgba(15,92,92,0.16)',
  veil: 'rgba(250,248,243,0.72)',
  stage: '#23282A',
}

export const DARK_PALETTE: Palette = {
  paper: '#1A1F20',
  panel: '#23292A',
  chosen: '#333A3B',
  desk: '#131718',
  line: '#3F4748',
  grid: '#343B3C',
  zero: '#59635F',
  outline: '#8F968F',
  ink: '#ECE9E1',
  inkMuted: '#A9B1AD',
  petrol: '#7CC4BE',
  petrolSolid: '#1F6E6D',
  petrolTint: '#24403F',
  petrolEmphasis: '#3B5F5D',
  saffron: '#F0AE3A',
  saffronTint: '#463A20',
  saffronText: '#E9B45A',
  good: '#63C497',
  alarm: '#F08A7C',
  halfFilled: '#4A5253',
  band: 'rgba(236,233,225,0.16)',
  stretch: 'rgba(124,196,190,0.09)',
  stretchChosen: 'rgba(124,196,190,0.16)',
  stretchDrawn: 'rgba(124,196,190,0.22)',
  veil: 'rgba(26,31,32,0.72)',
  stage: '#121617',
}

/** Colours of bodies, for points and lines in both themes. */
export const BODY_PAINT: Record<BodyColour, string> = {
  coral: '#E0533D',
  jade: '#1E9E6A',
  iris: '#7A69E0',
  cyan: '#1287A8',
  rose: '#C2417F',
  olive: '#7C8B2A',
}

const variableOf = (name: string) =>
  `var(--chakra-colors-${name.replace(/[A-Z]/g, (big) => `-${big.toLowerCase()}`)})`

/** The palette as CSS variables, which follow the theme: for styles, and for SVG in the page. */
export const COLOUR = Object.fromEntries(
  Object.keys(LIGHT_PALETTE).map((name) => [name, variableOf(name)]),
) as unknown as Palette
