import { createSystem, defaultConfig, defineConfig, defineRecipe } from '@chakra-ui/react'

/** Colours of bodies: for points and lines, and the darker variant for text (contrast at least 4.5 on white). */
export const BODY_PAINT = {
  coral: { mark: '#E0533D', text: '#B83A26' },
  jade: { mark: '#1E9E6A', text: '#14754E' },
  iris: { mark: '#7A69E0', text: '#5B49C4' },
  cyan: { mark: '#1287A8', text: '#0D6B86' },
  rose: { mark: '#C2417F', text: '#A8326B' },
  olive: { mark: '#7C8B2A', text: '#5C681C' },
} as const

/** The tokens of docs/design.md as plain values, for canvases. */
export const PAINT = {
  paper: '#FAF8F3',
  panel: '#FFFFFF',
  line: '#DDD8CC',
  ink: '#1E2526',
  inkMuted: '#5C6664',
  petrol: '#0F5C5C',
  petrolTint: '#E6F1EF',
  saffron: '#D98E04',
  stage: '#23282A',
  alarm: '#A3271B',
} as const

const button = defineRecipe({
  base: {
    fontWeight: '600',
    borderRadius: '8px',
    _focusVisible: { outline: '2px solid', outlineColor: 'petrol', outlineOffset: '2px' },
  },
})

const config = defineConfig({
  globalCss: {
    'html, body, #root': { height: '100%' },
    body: { bg: 'paper', color: 'ink', fontFamily: 'body', fontSize: '14px', lineHeight: '1.45' },
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
      colors: {
        petrolScale: {
          50: { value: PAINT.petrolTint },
          100: { value: '#CFE4E1' },
          200: { value: '#A5CBC7' },
          300: { value: '#74ABA7' },
          400: { value: '#3E8684' },
          500: { value: '#1F6E6D' },
          600: { value: PAINT.petrol },
          700: { value: '#0B4A4A' },
          800: { value: '#083838' },
          900: { value: '#052727' },
          950: { value: '#031818' },
        },
      },
    },
    semanticTokens: {
      colors: {
        paper: { value: PAINT.paper },
        panel: { value: PAINT.panel },
        line: { value: PAINT.line },
        ink: { DEFAULT: { value: PAINT.ink }, muted: { value: PAINT.inkMuted } },
        petrol: { DEFAULT: { value: PAINT.petrol }, tint: { value: PAINT.petrolTint } },
        saffron: { DEFAULT: { value: PAINT.saffron }, text: { value: '#8A5A00' } },
        stage: { value: PAINT.stage },
        alarm: { value: PAINT.alarm },
        bg: {
          DEFAULT: { value: PAINT.paper },
          panel: { value: PAINT.panel },
          subtle: { value: PAINT.paper },
        },
        border: { DEFAULT: { value: PAINT.line } },
        fg: { DEFAULT: { value: PAINT.ink }, muted: { value: PAINT.inkMuted } },
        brand: {
          solid: { value: '{colors.petrolScale.600}' },
          contrast: { value: 'white' },
          fg: { value: '{colors.petrolScale.700}' },
          muted: { value: '{colors.petrolScale.100}' },
          subtle: { value: '{colors.petrolScale.50}' },
          emphasized: { value: '{colors.petrolScale.200}' },
          focusRing: { value: '{colors.petrolScale.600}' },
          border: { value: '{colors.petrolScale.300}' },
        },
      },
    },
    recipes: { button },
  },
})

export const system = createSystem(defaultConfig, config)
