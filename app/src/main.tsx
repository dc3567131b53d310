import '@fontsource-variable/atkinson-hyperlegible-next/index.css'
import '@fontsource-variable/atkinson-hyperlegible-mono/index.css'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { keepProgram } from './data/program.ts'
import { paintedBy } from './data/photos.ts'
import { DatabaseProvider } from './data/queries.tsx'
import { GlobalStyle } from './design/theme.ts'
import { App } from './shell/routes.tsx'

const client = new QueryClient({ defaultOptions: { queries: { networkMode: 'always', refetchOnWindowFocus: false } } })

paintedBy(async (id) => (await import('./features/eyes/practicePictures.ts')).drawnPicture(id))

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <GlobalStyle />
    <QueryClientProvider client={client}>
      <DatabaseProvider>
        <App />
      </DatabaseProvider>
    </QueryClientProvider>
  </StrictMode>,
)

if (import.meta.env.PROD) keepProgram()
