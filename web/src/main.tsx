import './styles.css'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { RouterProvider } from '@tanstack/react-router'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { ProblemError } from './api/client'
import { openLine } from './api/queue'
import { router } from './shell/router'

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      // The server's own refusals do not get better by asking again.
      retry: (count, error) => count < 2 && !(error instanceof ProblemError && error.problem.status >= 400),
    },
  },
})

openLine()

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
)
