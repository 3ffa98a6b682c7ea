import createCache from '@emotion/cache'
import { css } from '@emotion/react'
import type { Plugin } from 'vite'
import { globalStyles } from './src/theme/system.ts'

const NAME = 'virtual:theme.css'
/** Vite's own name for a module that is no file begins with this. It ends as a style sheet does, to be bundled as one. */
const RESOLVED = `\0${NAME}`

/** Makes `virtual:theme.css` the style sheet of the theme, which the browser would otherwise make and parse at every start. */
export function themeStyles(): Plugin {
  return {
    name: 'theme-styles',
    resolveId: (id) => (id === NAME ? RESOLVED : undefined),
    load(id) {
      if (id !== RESOLVED) return
      const cache = createCache({ key: 'theme' })
      // Without a document the rules are returned.
      return cache.insert('', css(globalStyles), cache.sheet, false) ?? undefined
    },
  }
}
