import { describe, expect, it } from 'vitest'
import { BODY_PAINT, COLOUR, DARK_PALETTE, LIGHT_PALETTE, type Palette } from './palettes.ts'

/** Returns the relative luminance of a colour such as `#1E2526` (WCAG 2.2). */
function luminance(colour: string): number {
  const [red, green, blue] = [1, 3, 5].map((at) => {
    const share = Number.parseInt(colour.slice(at, at + 2), 16) / 255
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4
  })
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue
}

/** Returns the contrast of two colours, 1 to 21 (WCAG 2.2). */
function contrast(one: string, other: string): number {
  const [less, more] = [luminance(one), luminance(other)].sort((a, b) => a - b)
  return (more + 0.05) / (less + 0.05)
}

const WORDS = ['ink', 'inkMuted', 'petrol', 'saffronText', 'good', 'alarm'] as const
const GROUNDS = ['paper', 'panel'] as const

it('measures contrast as the standard does', () => {
  expect(contrast('#000000', '#FFFFFF')).toBeCloseTo(21, 6)
  // An example that is often quoted: this grey on white just passes.
  expect(contrast('#767676', '#FFFFFF')).toBeCloseTo(4.54, 2)
})

describe.each([
  ['light', LIGHT_PALETTE],
  ['dark', DARK_PALETTE],
] as [string, Palette][])('the %s palette', (_, palette) => {
  it('has words that can be read on every ground', () => {
    const poor = WORDS.flatMap((word) =>
      GROUNDS.map((ground) => [word, ground, contrast(palette[word], palette[ground])] as const),
    ).filter(([, , found]) => found < 4.5)
    expect(poor).toEqual([])
    for (const ground of ['petrolTint', 'chosen', 'saffronTint'] as const)
      for (const word of ['ink', 'inkMuted'] as const)
        expect([word, ground, contrast(palette[word], palette[ground]) >= 4.5]).toEqual([word, ground, true])
    expect(contrast(palette.petrol, palette.petrolTint)).toBeGreaterThan(4.5)
    expect(contrast('#FFFFFF', palette.petrolSolid)).toBeGreaterThan(4.5)
  })

  it('shows bodies, the current frame and outlines on its panels', () => {
    for (const [name, paint] of Object.entries(BODY_PAINT))
      expect([name, contrast(paint, palette.panel) >= 3]).toEqual([name, true])
    expect(contrast(palette.outline, palette.panel)).toBeGreaterThan(3)
  })
})

it('is reached through CSS variables under the names of the tokens', () => {
  expect(COLOUR.inkMuted).toBe('var(--chakra-colors-ink-muted)')
  expect(COLOUR.paper).toBe('var(--chakra-colors-paper)')
})
