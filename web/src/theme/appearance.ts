import { useMemo } from 'react'
import { create } from 'zustand'
import { type Look, PROJECTED, UNPROJECTED } from './look.ts'
import { DARK_PALETTE, LIGHT_PALETTE } from './palettes.ts'

/** How the pages look on this machine, whatever is open. */

const THEMES = ['system', 'light', 'dark'] as const
/** The theme that was chosen; `system` follows the preference of the machine. */
export type Theme = (typeof THEMES)[number]

interface Appearance {
  theme: Theme
  /** Whether the dark theme is shown. */
  isDark: boolean
  /** Whether everything is larger, for a class that sees it by a projector. */
  isProjected: boolean
}

const STORED = { theme: 'apokinema:theme', projected: 'apokinema:projector' }

const darkSystem = matchMedia('(prefers-color-scheme: dark)')

function storedTheme(): Theme {
  const stored = localStorage.getItem(STORED.theme)
  return THEMES.find((theme) => theme === stored) ?? 'system'
}

const isDark = (theme: Theme) => (theme === 'system' ? darkSystem.matches : theme === 'dark')

export const useAppearance = create<Appearance>(() => {
  const theme = storedTheme()
  return {
    theme,
    isDark: isDark(theme),
    isProjected: localStorage.getItem(STORED.projected) === 'on',
  }
})

/** Chooses a theme, and keeps it on this machine. */
export function chooseTheme(theme: Theme): void {
  localStorage.setItem(STORED.theme, theme)
  useAppearance.setState({ theme, isDark: isDark(theme) })
}

/** Shows everything larger, or as usual, and keeps that on this machine. */
export function project(isProjected: boolean): void {
  localStorage.setItem(STORED.projected, isProjected ? 'on' : 'off')
  useAppearance.setState({ isProjected })
}

/** Shows the document in the appearance that was chosen, now and after every change of it or of the system. */
export function keepAppearance(): void {
  const show = ({ isDark, isProjected }: Appearance) => {
    const { classList, style } = document.documentElement
    const { type, stroke } = lookOf(isDark, isProjected)
    classList.toggle('dark', isDark)
    classList.toggle('light', !isDark)
    style.colorScheme = isDark ? 'dark' : 'light'
    // All sizes of type and room are multiples of it.
    style.fontSize = `${100 * type}%`
    style.setProperty('--stroke', String(stroke))
  }
  show(useAppearance.getState())
  useAppearance.subscribe(show)
  darkSystem.addEventListener('change', () =>
    useAppearance.setState(({ theme }) => ({ isDark: isDark(theme) })),
  )
}

const lookOf = (isDark: boolean, isProjected: boolean): Look => ({
  palette: isDark ? DARK_PALETTE : LIGHT_PALETTE,
  ...(isProjected ? PROJECTED : UNPROJECTED),
})

/** Returns how drawings look; the same object until that changes. */
export function useLook(): Look {
  const isDark = useAppearance((now) => now.isDark)
  const isProjected = useAppearance((now) => now.isProjected)
  return useMemo(() => lookOf(isDark, isProjected), [isDark, isProjected])
}
