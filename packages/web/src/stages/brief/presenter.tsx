import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import type { DayPlan } from '@ochote/contract'
import type { Level } from '@ochote/core'
import { useEffect, useLayoutEffect, useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { DayProvider, useDay } from '../../data/day/day-context.tsx'
import { useDayPart } from '../../data/day/use-day-part.ts'
import { say } from '../../language/say.ts'
import { columns } from '../../look/columns.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { AskedHere } from './asked-here.tsx'
import { turned, usePresented, useTypedNumber } from './presenting.ts'
import { SmallPage } from './small-page.tsx'
import { useBriefing } from './use-briefing.ts'

/** Time that the day gives its first briefing (min); null where it plans none. */
const briefingTime_min = (plan: DayPlan | undefined): number | null => {
  const slot = plan?.slots.find((s) => s.kind === 'briefing')
  if (!slot) return null
  const minutes = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3))
  return minutes(slot.end) - minutes(slot.start)
}

/** A clock, and the time since this window was opened. */
const Clock = ({ plan_min }: { plan_min: number | null }) => {
  const [began] = useState(() => Date.now())
  const [now, setNow] = useState(began)
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000)
    return () => clearInterval(timer)
  }, [])
  const since = Math.floor((now - began) / 1000)
  return (
    <Stack direction="row" spacing={6} className="figures" sx={{ alignItems: 'baseline' }}>
      <Typography component="div" sx={{ fontSize: 'size.title', fontWeight: 680 }} aria-label={say`Clock`}>
        {new Date(now).toTimeString().slice(0, 5)}
      </Typography>
      <Typography component="div" sx={{ fontSize: 'size.title' }} aria-label={say`Told so far`}>
        {say`${Math.floor(since / 60)}:${String(since % 60).padStart(2, '0')}${plan_min === null ? '' : say` of ${plan_min} min`} told`}
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
  const { day } = useDay()
  const { page: asked, corner, show } = usePresented(Number(search.get('page') ?? 1))
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
    <Stack component="main" spacing={3} sx={{ p: 5, minHeight: '100dvh' }}>
      <Stack direction="row" useFlexGap spacing={5} sx={{ alignItems: 'center', flexWrap: 'wrap', rowGap: 2 }}>
        <Clock plan_min={briefingTime_min(day?.plan)} />
        <Typography className="figures" role="status" sx={{ fontSize: 'size.head' }}>
          {typed ? say`to corner ${typed}` : say`page ${number} of ${pages.length}`}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" onClick={openProjector}>
          {say`Open the projector’s window`}
        </Button>
        <Button variant="outlined" onClick={() => navigate('/brief')}>
          {say`End`}
        </Button>
      </Stack>
      <Box sx={columns('minmax(0, 1.3fr) minmax(0, 1fr)')}>
        <Stack spacing={3}>
          <SmallPage page={page} state={state} />
          <Stack direction="row" spacing={3}>
            <Button variant="outlined" disabled={number === 1} onClick={() => show(number - 1)}>
              {say`← Back`}
            </Button>
            <Button variant="contained" disabled={number === pages.length} onClick={() => show(number + 1)} sx={{ flex: 1 }}>
              {following ? say`Next: ${following.title} →` : say`That was the last page`}
            </Button>
          </Stack>
          <Typography variant="text" color="text.secondary">
            {say`← → turn pages in both windows, a number jumps to that corner, B blanks the projector.`}
          </Typography>
        </Stack>
        <Stack spacing={4}>
          <TextField
            key={page.id}
            label={say`My notes on this page`}
            multiline
            minRows={4}
            maxRows={8}
            defaultValue={briefing.notes[page.id] ?? ''}
            onBlur={(e) => {
              const { [page.id]: _, ...rest } = briefing.notes
              const text = e.target.value.slice(0, 2000)
              if (text !== (briefing.notes[page.id] ?? '')) change({ notes: text === '' ? rest : { ...rest, [page.id]: text } })
            }}
            sx={{ '& textarea': { fontSize: 'size.head', lineHeight: 1.3 } }}
          />
          {following && <SmallPage page={following} state={state} />}
          <AskedHere plan={state.plan} cornerId={page.kind === 'corner' ? page.corner.id : page.kind === 'sighting' ? corner : null} />
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
