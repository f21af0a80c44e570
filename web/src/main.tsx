import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource-variable/atkinson-hyperlegible-mono/wght.css'
import './colours.css'
import CssBaseline from '@mui/material/CssBaseline'
import { ThemeProvider } from '@mui/material/styles'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { RouterProvider } from 'react-router/dom'
import { keyHash } from './api/keyHash'
import { router } from './routes'
import { SettingsProvider } from './settings/SettingsProvider'
import { theme } from './theme'

const queries = new QueryClient({ defaultOptions: { queries: { queryKeyHashFn: keyHash, retry: 1, refetchOnWindowFocus: false, gcTime: 30_000 } } })

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <ThemeProvider theme={theme} defaultMode="system">
      <CssBaseline />
      <SettingsProvider>
        <QueryClientProvider client={queries}>
          <RouterProvider router={router} />
        </QueryClientProvider>
      </SettingsProvider>
    </ThemeProvider>
  </StrictMode>,
)
