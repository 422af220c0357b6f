import { Box, Typography } from '@mui/material'
import { useEffect, useMemo } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { DayProvider, useDay } from '../../app/day-context.tsx'
import { usePlan } from '../../shared/plan/use-plan.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { LapSelectionProvider, useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { schemeOf } from '../cones/use-cones.ts'
import { briefPages } from './brief-pages.ts'
import { PageView } from './page-view.tsx'

const Pages = () => {
  const { day, settings } = useDay()
  const { plan, error } = usePlan(settings)
  const [search, setSearch] = useSearchParams()
  const navigate = useNavigate()
  const { selectCorner } = useLapSelection()
  const pages = useMemo(() => (plan ? briefPages(plan, day?.plan, schemeOf(settings?.schemeId)) : []), [plan, day, settings?.schemeId])
  const at = Math.min(Math.max(0, Number(search.get('page') ?? 1) - 1), Math.max(0, pages.length - 1))
  const page = pages[at]
  const cornerId = page?.kind === 'corner' ? page.corner.id : null
  useEffect(() => selectCorner(cornerId), [cornerId, selectCorner])
  useEffect(() => {
    const show = (index: number): void => setSearch({ page: String(Math.min(Math.max(0, index), pages.length - 1) + 1) }, { replace: true })
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === 'ArrowRight' || event.key === 'ArrowDown' || event.key === 'PageDown' || event.key === ' ') show(at + 1)
      else if (event.key === 'ArrowLeft' || event.key === 'ArrowUp' || event.key === 'PageUp') show(at - 1)
      else if (event.key === 'Home') show(0)
      else if (event.key === 'End') show(pages.length - 1)
      else if (event.key === 'Escape') navigate('/brief')
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [at, pages.length, setSearch, navigate])
  if (!plan || !settings || !page) return <ProblemNote error={error} />
  return (
    <Box component="main" sx={{ minHeight: '100vh', px: 7, py: 5, position: 'relative' }}>
      <PageView page={page} plan={plan} schemeId={settings.schemeId} />
      <Typography
        className="figures"
        sx={{ position: 'fixed', right: 28, bottom: 16, fontSize: 28, color: 'text.secondary' }}
        aria-label={`Page ${at + 1} of ${pages.length}`}
      >
        {`${at + 1}/${pages.length}`}
      </Typography>
    </Box>
  )
}

/** The briefing on the projector: one message a page, arrow keys, Escape ends. */
export const Projector = () => (
  <DayProvider>
    <LapSelectionProvider>
      <Pages />
    </LapSelectionProvider>
  </DayProvider>
)
