import { Box, Typography } from '@mui/material'
import type { Level } from '@ochote/core'
import { useEffect, useLayoutEffect, useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { DayProvider } from '../../data/day/day-context.tsx'
import { say } from '../../language/say.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { LapSelectionProvider, useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { PageView } from './page-view.tsx'
import { turned, usePresented, useTypedNumber } from './presenting.ts'
import { useBriefing } from './use-briefing.ts'

const Pages = () => {
  const [search, setSearch] = useSearchParams()
  const level = search.get('level') as Level | null
  const { state, error } = useBriefing({ level })
  const navigate = useNavigate()
  const { selectCorner } = useLapSelection()
  const { page: asked, show } = usePresented(Number(search.get('page') ?? 1))
  const pages = state?.pages ?? []
  const last = pages.length
  const number = Math.min(Math.max(1, asked), Math.max(1, last))
  const page = pages[number - 1]
  const cornerId = page?.kind === 'corner' ? page.corner.id : null
  const typed = useTypedNumber((corner) => {
    const at = pages.findIndex((p) => p.kind === 'corner' && p.corner.id === `T${corner}`)
    if (at >= 0) show(at + 1)
  })
  const [hidden, setHidden] = useState(false)
  useEffect(() => selectCorner(cornerId), [cornerId, selectCorner])
  // The address names the page, so that a reload shows it again.
  useEffect(() => {
    if (last > 0 && search.get('page') !== String(number))
      setSearch((now) => ({ ...Object.fromEntries(now), page: String(number) }), { replace: true })
  }, [number, last, search, setSearch])
  // Before anything is painted, so that no key is lost on a busy machine.
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const next = turned(event.key, number, last)
      if (next !== null) show(next)
      else if (event.key === 'b') setHidden((now) => !now)
      else if (event.key === 'Escape') navigate('/brief')
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [number, last, show, navigate])
  if (!state || !page) return <ProblemNote error={error} />
  return (
    <Box component="main" sx={{ minHeight: '100vh', px: { xs: 4, sm: 7 }, py: { xs: 4, sm: 6 }, position: 'relative' }}>
      <Box sx={{ visibility: hidden ? 'hidden' : 'visible' }}>
        <PageView page={page} state={state} />
      </Box>
      <Typography
        className="figures"
        sx={{ position: 'fixed', right: 28, bottom: 12, fontSize: 'size.note', color: 'text.secondary' }}
        aria-label={say`Page ${number} of ${last}`}
      >
        {typed ? say`to corner ${typed}` : `${number}/${last}`}
      </Typography>
    </Box>
  )
}

/** The briefing on the projector: one message a page, arrow keys, a number jumps to a corner, B blanks, Escape ends. */
export const Projector = () => (
  <DayProvider>
    <LapSelectionProvider>
      <Pages />
    </LapSelectionProvider>
  </DayProvider>
)
