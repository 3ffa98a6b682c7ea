import 'virtual:theme.css'
import '@fontsource-variable/instrument-sans'
import '@fontsource-variable/jetbrains-mono'
import { readExpression } from '@apokinema/core/motion'
import { ChakraProvider } from '@chakra-ui/react'
import createCache from '@emotion/cache'
import { CacheProvider } from '@emotion/react'
import { QueryClientProvider } from '@tanstack/react-query'
import { type ComponentType, StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, RouterProvider } from 'react-router'
import { prefetchInvestigation, prefetchSeries, queryClient } from './api/queries.ts'
import { Messages } from './common/messages.tsx'
import { Broken, CurrentPage, Loading } from './common/states.tsx'
import { uploadWaiting } from './footage/uploads.ts'
import { InvestigationsPage } from './investigations/InvestigationsPage.tsx'
import { MeasuringElsewhere } from './series/MeasuringElsewhere.tsx'
import { keepAppearance } from './theme/appearance.ts'
import { system } from './theme/system.ts'

/** A canvas draws with a fallback font until a font is loaded, so the workbench waits for its two. */
const fonts = Promise.all(
  [
    "13px 'Instrument Sans Variable'",
    "italic 13px 'Instrument Sans Variable'",
    "13px 'JetBrains Mono Variable'",
  ].map((font) => document.fonts.load(font).catch(() => [])),
)

const nonce = document.querySelector<HTMLMetaElement>('meta[property=csp-nonce]')?.nonce ?? ''
const styles = createCache({ key: 'apo', nonce })

/**
 * Returns a page whose code is loaded by the router, which keeps showing the previous page meanwhile. Under a
 * Suspense boundary React would delay the new page by 0.3 s after showing a fallback.
 */
const page = (path: string, load: () => Promise<ComponentType>, waiting: string) => ({
  path,
  lazy: async () => ({ Component: await load() }),
  hydrateFallbackElement: <Loading text={waiting} />,
  errorElement: <Broken />,
})

const workbench = async () => {
  const [{ WorkbenchPage }] = await Promise.all([import('./workbench/WorkbenchPage.tsx'), fonts])
  return WorkbenchPage
}
const series = async () => {
  // Its columns may be expressions. What parses them is made at the first one, so that is done while the code is on its way.
  setTimeout(() => readExpression('x'))
  const [{ SeriesPage }] = await Promise.all([import('./series/SeriesPage.tsx'), fonts])
  return SeriesPage
}
const router = createBrowserRouter([
  {
    element: (
      <>
        <CurrentPage />
        <MeasuringElsewhere />
      </>
    ),
    children: [
      { path: '/', element: <InvestigationsPage />, errorElement: <Broken /> },
      page('/investigations/:id', workbench, 'Opening the workbench …'),
      page('/investigations/:id/:view', workbench, 'Opening the workbench …'),
      page('/series/:id/:view?', series, 'Opening the series …'),
      page(
        '/record',
        async () => (await import('./record/RecordPage.tsx')).RecordPage,
        'Opening the camera …',
      ),
      page(
        '/film-it-well',
        async () => (await import('./record/FilmItWellPage.tsx')).FilmItWellPage,
        'Opening …',
      ),
      { path: '*', element: <Broken /> },
    ],
  },
])

/** What loads the code of the pages that links lead to, by the first part of their addresses, until it was called. */
const PAGES = new Map<string, () => Promise<unknown>>([
  ['investigations', workbench],
  ['series', series],
])
/** Loads the code of a page when a link to it is pointed at, or reached by keys: it is pressed a moment later. */
function loadPointedAt({ target }: Event): void {
  const link = target instanceof Element ? target.closest('a') : null
  const kind = link?.pathname.split('/')[1] ?? ''
  const load = PAGES.get(kind)
  PAGES.delete(kind)
  // Where it can't be loaded now, pressing the link tries again, and says so.
  void load?.().catch(() => {})
}
document.addEventListener('pointerover', loadPointedAt)
document.addEventListener('focusin', loadPointedAt)

/** Requests what the address shows while the code of its page is still being loaded. */
const [, kind, shown] = window.location.pathname.split('/')
if (kind === 'investigations' && shown) prefetchInvestigation(shown)
if (kind === 'series' && shown) prefetchSeries(shown)

keepAppearance()
void uploadWaiting()

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <CacheProvider value={styles}>
      <ChakraProvider value={system}>
        <QueryClientProvider client={queryClient}>
          <RouterProvider router={router} />
          <Messages />
        </QueryClientProvider>
      </ChakraProvider>
    </CacheProvider>
  </StrictMode>,
)
