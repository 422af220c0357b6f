import '@fontsource-variable/archivo/standard.css'
import './app/print.css'
import { QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { RouterProvider } from 'react-router'
import { queryClient } from './app/queries.ts'
import { router } from './app/router.ts'
import { ThemeChoice } from './app/theme-choice.tsx'

const root = document.getElementById('root')
if (!root) throw new Error('The page has no root')
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      <ThemeChoice>
        <RouterProvider router={router} />
      </ThemeChoice>
    </QueryClientProvider>
  </StrictMode>,
)
