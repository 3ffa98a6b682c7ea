import '@fontsource-variable/instrument-sans'
import '@fontsource-variable/jetbrains-mono'
import { ChakraProvider } from '@chakra-ui/react'
import createCache from '@emotion/cache'
import { CacheProvider } from '@emotion/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { lazy, StrictMode, Suspense } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, RouterProvider } from 'react-router'
import { Messages } from './common/messages.tsx'
import { Broken, Loading } from './common/states.tsx'
import { uploadWaiting } from './footage/uploads.ts'
import { InvestigationsPage } from './investigations/InvestigationsPage.tsx'
import { system } from './theme/system.ts'

/** Canvases draw with a fallback until a font has come, so the workbench waits for its two. */
const fonts = Promise.all(
  [
    "13px 'Instrument Sans Variable'",
    "italic 13px 'Instrument Sans Variable'",
    "13px 'JetBrains Mono Variable'",
  ].map((font) => document.fonts.load(font).catch(() => [])),
)
const WorkbenchPage = lazy(async () => {
  await fonts
  return import('./workbench/WorkbenchPage.tsx')
})

const RecordPage = lazy(() =>
  import('./record/RecordPage.tsx').then(({ RecordPage }) => ({ default: RecordPage })),
)
const FilmItWellPage = lazy(() =>
  import('./record/FilmItWellPage.tsx').then(({ FilmItWellPage }) => ({ default: FilmItWellPage })),
)

const nonce = document.querySelector<HTMLMetaElement>('meta[property=csp-nonce]')?.nonce ?? ''
const styles = createCache({ key: 'apo', nonce })
const queries = new QueryClient({ defaultOptions: { queries: { retry: 1, staleTime: 5_000 } } })

const workbench = (
  <Suspense fallback={<Loading text="Opening the workbench …" />}>
    <WorkbenchPage />
  </Suspense>
)
const router = createBrowserRouter([
  { path: '/', element: <InvestigationsPage />, errorElement: <Broken /> },
  { path: '/investigations/:id', element: workbench, errorElement: <Broken /> },
  { path: '/investigations/:id/:view', element: workbench, errorElement: <Broken /> },
  {
    path: '/record',
    element: (
      <Suspense fallback={<Loading text="Opening the camera …" />}>
        <RecordPage />
      </Suspense>
    ),
    errorElement: <Broken />,
  },
  {
    path: '/film-it-well',
    element: (
      <Suspense fallback={<Loading text="Opening …" />}>
        <FilmItWellPage />
      </Suspense>
    ),
    errorElement: <Broken />,
  },
  { path: '*', element: <Broken /> },
])

void uploadWaiting()

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <CacheProvider value={styles}>
      <ChakraProvider value={system}>
        <QueryClientProvider client={queries}>
          <RouterProvider router={router} />
          <Messages />
        </QueryClientProvider>
      </ChakraProvider>
    </CacheProvider>
  </StrictMode>,
)
