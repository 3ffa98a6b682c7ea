import {
  createSystem,
  defaultBaseConfig,
  defineConfig,
  defineRecipe,
  type SystemContext,
} from '@chakra-ui/react'
import { defaultThemeConfig } from '@chakra-ui/react/theme'
import { DARK_PALETTE, LIGHT_PALETTE, type Palette } from './palettes.ts'

/** Returns a semantic colour of both palettes. */
const themed = (name: keyof Palette) => ({
  value: { _light: LIGHT_PALETTE[name], _dark: DARK_PALETTE[name] },
})

/** The palette as nested tokens: `inkMuted` is `ink.muted`, and `ink` the default beside it. */
const themedPalette: Record<string, Record<string, ReturnType<typeof themed>>> = {}
for (const name of Object.keys(LIGHT_PALETTE) as (keyof Palette)[]) {
  const [group, variant] = name.split(/(?=[A-Z])/)
  themedPalette[group] = { ...themedPalette[group], [variant?.toLowerCase() ?? 'DEFAULT']: themed(name) }
}

const button = defineRecipe({
  base: {
    fontWeight: '600',
    borderRadius: '8px',
    _focusVisible: { outline: '2px solid', outlineColor: 'petrol', outlineOffset: '2px' },
  },
  // The kit’s own outline can hardly be seen on a dark panel.
  variants: { variant: { outline: { borderColor: 'line' } } },
})

const config = defineConfig({
  globalCss: {
    'html, body, #root': { height: '100%' },
    body: { bg: 'paper', color: 'ink', fontFamily: 'body', fontSize: 'text', lineHeight: '1.45' },
    'input[type=checkbox]': { accentColor: '{colors.petrol}' },
    '*:focus-visible': { outline: '2px solid {colors.petrol}', outlineOffset: '2px' },
    '*': {
      '@media (prefers-reduced-motion: reduce)': {
        animationDuration: '0s !important',
        transitionDuration: '0s !important',
      },
    },
  },
  theme: {
    tokens: {
      fonts: {
        body: { value: "'Instrument Sans Variable', system-ui, sans-serif" },
        heading: { value: "'Instrument Sans Variable', system-ui, sans-serif" },
        mono: { value: "'JetBrains Mono Variable', ui-monospace, monospace" },
      },
      // In rem, so that all of it grows on a projector.
      fontSizes: {
        tiny: { value: '0.75rem' },
        small: { value: '0.8125rem' },
        text: { value: '0.875rem' },
        lead: { value: '1rem' },
        title: { value: '1.25rem' },
      },
    },
    semanticTokens: {
      colors: {
        ...themedPalette,
        bg: {
          DEFAULT: themed('paper'),
          panel: themed('panel'),
          subtle: themed('paper'),
          muted: themed('chosen'),
        },
        border: { DEFAULT: themed('line') },
        fg: { DEFAULT: themed('ink'), muted: themed('inkMuted') },
        brand: {
          solid: themed('petrolSolid'),
          contrast: { value: 'white' },
          fg: themed('petrol'),
          muted: themed('petrolTint'),
          subtle: themed('petrolTint'),
          emphasized: themed('petrolEmphasis'),
          focusRing: themed('petrol'),
          border: themed('petrolEmphasis'),
        },
      },
    },
    recipes: { button },
  },
})

/** Palettes of the kit that nothing here is coloured with. Each has a CSS variable for every shade, at every start. */
const UNUSED_PALETTES = ['orange', 'yellow', 'green', 'teal', 'blue', 'cyan', 'purple', 'pink']

/** Returns colours without the palettes that are not used. */
const used = <T extends object>(colours: T | undefined): T =>
  Object.fromEntries(Object.entries(colours ?? {}).filter(([name]) => !UNUSED_PALETTES.includes(name))) as T

const { theme = {} } = defaultThemeConfig
const kit = {
  ...defaultThemeConfig,
  theme: {
    ...theme,
    tokens: { ...theme.tokens, colors: used(theme.tokens?.colors) },
    semanticTokens: { ...theme.semanticTokens, colors: used(theme.semanticTokens?.colors) },
  },
}

// Not from `defaultConfig`: the kit's file that has it also makes a whole system that is not used.
const made = createSystem(defaultBaseConfig, kit, config)

/** The styles of every page: the reset, the base and the tokens. They are written into a file at the build (`themeStyles.ts`). */
export const globalStyles = [made.layers.atRule, ...made._global]

export const system: SystemContext = { ...made, _global: [] }
