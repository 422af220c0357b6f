import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import type { Level } from '@ochote/core'
import { useEffect, useLayoutEffect, useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { DayProvider } from '../../data/day/day-context.tsx'
import { useDayPart } from '../../data/day/use-day-part.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { AskedHere } from './asked-here.tsx'
import type { BriefPage } from './brief-pages.ts'
import { PageView } from './page-view.tsx'
import { turned, usePresented, useTypedNumber } from './presenting.ts'
import { type BriefingState, useBriefing } from './use-briefing.ts'

const WIDTH = 1280
const HEIGHT = 800

/** A page as the projector shows it, made smaller. */
const SmallPage = ({ page, state, width }: { page: BriefPage; state: BriefingState; width: number }) => (
  <Box
    aria-hidden="true"
    sx={{ width, height: (width * HEIGHT) / WIDTH, overflow: 'hidden', border: '1px solid', borderColor: 'divider', pointerEvents: 'none' }}
  >
    <Box sx={{ width: WIDTH, height: HEIGHT, transform: `scale(${width / WIDTH})`, transformOrigin: '0 0', px: 7, py: 4 }} inert>
      <LapSelectionProvider key={page.id} initialCornerId={page.kind === 'corner' ? page.corner.id : null}>
        <PageView page={page} state={state} />
      </LapSelectionProvider>
    </Box>
  </Box>
)

/** A clock, and the time since this window was opened. */
const Clock = () => {
  const [began] = useState(() => Date.now())
  const [now, setNow] = useState(began)
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000)
    return () => clearInterval(timer)
  }, [])
  const since = Math.floor((now - began) / 1000)
  return (
    <Stack direction="row" spacing={4} className="figures" sx={{ alignItems: 'baseline' }}>
      <Typography component="div" sx={{ fontSize: 34, fontWeight: 680 }} aria-label="Clock">
        {new Date(now).toTimeString().slice(0, 5)}
      </Typography>
      <Typography component="div" sx={{ fontSize: 24 }} aria-label="Told so far">
        {`${Math.floor(since / 60)}:${String(since % 60).padStart(2, '0')} told`}
      </Typography>
    </Stack>
  )
}

const Window = () => {
  const [search] = useSearchParams()
  const level = search.get('level') as Level | null
  const { state, error } = useBriefing({ level })
  const { value: briefing, change } = useDayPart('briefing')
  const navigate = useNavigate()
  const { page: asked, show } = usePresented(Number(search.get('page') ?? 1))
  const pages = state?.pages ?? []
  const number = Math.min(Math.max(1, asked), Math.max(1, pages.length))
  const page = pages[number - 1]
  const typed = useTypedNumber((corner) => {
    const at = pages.findIndex((p) => p.kind === 'corner' && p.corner.id === `T${corner}`)
    if (at >= 0) show(at + 1)
  })
  // Before anything is painted, so that no key is lost on a busy machine.
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.target instanceof HTMLElement && event.target.matches('input, textarea')) return
      const next = turned(event.key, number, pages.length)
      if (next === null) return
      show(next)
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [number, pages.length, show])
  if (!state || !page) return <ProblemNote error={error} />
  const following = pages[number]
  const openProjector = (): void => {
    window.open(`/brief/present?page=${number}${level ? `&level=${encodeURIComponent(level)}` : ''}`, 'ochote-projector', 'popup')
  }
  return (
    <Stack component="main" spacing={1.5} sx={{ p: 2.5, minHeight: '100vh' }}>
      <Stack direction="row" spacing={3} sx={{ alignItems: 'center' }}>
        <Clock />
        <Typography className="figures" role="status" sx={{ fontSize: 20 }}>
          {typed ? `to corner ${typed}` : `page ${number} of ${pages.length}`}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" onClick={openProjector}>
          Open the projector’s window
        </Button>
        <Button variant="outlined" onClick={() => navigate('/brief')}>
          End
        </Button>
      </Stack>
      <Box sx={{ display: 'grid', gridTemplateColumns: '730px minmax(0, 1fr)', gap: 3 }}>
        <Stack spacing={1.5}>
          <SmallPage page={page} state={state} width={730} />
          <Stack direction="row" spacing={1.5}>
            <Button variant="outlined" disabled={number === 1} onClick={() => show(number - 1)}>
              ← Back
            </Button>
            <Button variant="contained" disabled={number === pages.length} onClick={() => show(number + 1)} sx={{ flex: 1 }}>
              {following ? `Next: ${following.title} →` : 'That was the last page'}
            </Button>
          </Stack>
          <Typography variant="body2" color="text.secondary">
            ← → turn pages in both windows, a number jumps to that corner, B blanks the projector.
          </Typography>
        </Stack>
        <Stack spacing={2}>
          <TextField
            key={page.id}
            label="My notes on this page"
            multiline
            minRows={4}
            maxRows={8}
            defaultValue={briefing.notes[page.id] ?? ''}
            onBlur={(e) => {
              const { [page.id]: _, ...rest } = briefing.notes
              const text = e.target.value.slice(0, 2000)
              if (text !== (briefing.notes[page.id] ?? '')) change({ notes: text === '' ? rest : { ...rest, [page.id]: text } })
            }}
            slotProps={{ htmlInput: { style: { fontSize: 20, lineHeight: 1.3 } } }}
          />
          {following && <SmallPage page={following} state={state} width={300} />}
          <AskedHere plan={state.plan} cornerId={page.kind === 'corner' ? page.corner.id : null} />
        </Stack>
      </Box>
    </Stack>
  )
}

/** The presenter's own window: what is shown, what comes, notes, clock, questions. */
export const Presenter = () => (
  <DayProvider>
    <LapSelectionProvider>
      <Window />
    </LapSelectionProvider>
  </DayProvider>
)
