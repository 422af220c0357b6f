import '@fontsource-variable/archivo/standard.css'
import './print.css'
import { QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { RouterProvider } from 'react-router'
import { queryClient } from '../data/api/queries.ts'
import { keepAnswers, restoreAnswers } from '../data/events/stored-answers.ts'
import { ThemeChoice } from '../look/theme-choice.tsx'
import { installPages } from './newer-version.ts'
import { router } from './router.ts'

const root = document.getElementById('root')
if (!root) throw new Error('The page has no root')
// A device that keeps nothing, e.g. in a private window, opens all the same.
await restoreAnswers(queryClient).catch(() => {})
keepAnswers(queryClient)
installPages()
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      <ThemeChoice>
        <RouterProvider router={router} />
      </ThemeChoice>
    </QueryClientProvider>
  </StrictMode>,
)
