import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, redirect, RouterProvider } from 'react-router'
import './app/style.css'
import { CallError } from './api/call.ts'
import { Frame } from './app/frame.tsx'
import { Lost } from './app/not-found.tsx'
import { installThemes } from './app/theme.ts'

installThemes()

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      refetchOnWindowFocus: false,
      retry: (failures, error) =>
        failures < 2 && !(error instanceof CallError && error.status >= 400 && error.status < 500),
    },
  },
})

const router = createBrowserRouter([
  {
    path: '/enter',
    hydrateFallbackElement: <></>,
    errorElement: <Lost />,
    lazy: async () => ({ Component: (await import('./sections/people/enter-page.tsx')).EnterPage }),
  },
  {
    path: '/first',
    hydrateFallbackElement: <></>,
    errorElement: <Lost />,
    lazy: async () => ({
      Component: (await import('./sections/setup/first-site-page.tsx')).FirstSitePage,
    }),
  },
  {
    path: '/',
    element: <Frame />,
    hydrateFallbackElement: <></>,
    errorElement: <Lost />,
    children: [
      {
        // A screen that breaks keeps the frame, the lens and the way to the others.
        errorElement: <Lost />,
        children: [
          {
            index: true,
            element: <></>,
            loader: ({ request }) => redirect(`/aim${new URL(request.url).search}`),
          },
          {
            path: 'aim',
            lazy: async () => ({ Component: (await import('./sections/aim/aim-page.tsx')).AimPage }),
          },
          {
            path: 'funnels',
            lazy: async () => ({
              Component: (await import('./sections/funnels/funnels-page.tsx')).FunnelsPage,
            }),
          },
          {
            path: 'paths',
            lazy: async () => ({ Component: (await import('./sections/paths/paths-page.tsx')).PathsPage }),
          },
          {
            path: 'paths/ledger',
            lazy: async () => ({ Component: (await import('./sections/paths/ledger-page.tsx')).LedgerPage }),
          },
          {
            path: 'paths/loops',
            lazy: async () => ({ Component: (await import('./sections/paths/loops-page.tsx')).LoopsPage }),
          },
          {
            path: 'paths/patterns',
            lazy: async () => ({
              Component: (await import('./sections/paths/patterns-page.tsx')).PatternsPage,
            }),
          },
          {
            path: 'pages',
            lazy: async () => ({ Component: (await import('./sections/pages/pages-page.tsx')).PagesPage }),
          },
          {
            path: 'pages/landings',
            lazy: async () => ({
              Component: (await import('./sections/pages/landings-page.tsx')).LandingsPage,
            }),
          },
          {
            path: 'visitors',
            lazy: async () => ({
              Component: (await import('./sections/visitors/visitors-page.tsx')).VisitorsPage,
            }),
          },
          {
            path: 'visitors/:visitor',
            lazy: async () => ({
              Component: (await import('./sections/visitors/visitor-page.tsx')).VisitorPage,
            }),
          },
          {
            path: 'replays',
            lazy: async () => ({
              Component: (await import('./sections/replays/replays-page.tsx')).ReplaysPage,
            }),
          },
          {
            path: 'replays/:id',
            lazy: async () => ({
              Component: (await import('./sections/replays/replay-page.tsx')).ReplayPage,
            }),
          },
          {
            path: 'friction',
            lazy: async () => ({
              Component: (await import('./sections/friction/friction-page.tsx')).FrictionPage,
            }),
          },
          {
            path: 'friction/strain',
            lazy: async () => ({
              Component: (await import('./sections/friction/strain-page.tsx')).StrainPage,
            }),
          },
          {
            path: 'friction/errors',
            lazy: async () => ({
              Component: (await import('./sections/friction/errors-page.tsx')).ErrorsPage,
            }),
          },
          {
            path: 'friction/forms',
            lazy: async () => ({ Component: (await import('./sections/friction/forms-page.tsx')).FormsPage }),
          },
          {
            path: 'friction/:kind',
            lazy: async () => ({ Component: (await import('./sections/friction/kind-page.tsx')).KindPage }),
          },
          {
            path: 'fixes',
            lazy: async () => ({ Component: (await import('./sections/fixes/fixes-page.tsx')).FixesPage }),
          },
          {
            path: 'fixes/:id',
            lazy: async () => ({ Component: (await import('./sections/fixes/fix-page.tsx')).FixPage }),
          },
          {
            path: 'segments',
            lazy: async () => ({
              Component: (await import('./sections/segments/segments-page.tsx')).SegmentsPage,
            }),
          },
          {
            path: 'labels',
            lazy: async () => ({ Component: (await import('./sections/labels/labels-page.tsx')).LabelsPage }),
          },
          {
            path: 'you',
            lazy: async () => ({ Component: (await import('./sections/people/you-page.tsx')).YouPage }),
          },
          {
            path: 'setup',
            lazy: async () => ({ Component: (await import('./sections/setup/setup-page.tsx')).SetupPage }),
          },
          { path: '*', element: <Lost /> },
        ],
      },
    ],
  },
])

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
)
