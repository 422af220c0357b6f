import { Box, Button, Stack, Typography } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { Link, useNavigate } from 'react-router'
import { runsQuery, studentsQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { SyncNote } from '../../shared/sync-note.tsx'
import { useStartRun } from '../day/start-run.ts'
import { RunTabs } from './run-tabs.tsx'

/** The ways to work on the track, each for one person at one place. */
const modes = [
  { to: '/run/pit-wall', name: 'Pit wall', what: 'All cars, gaps, release, flags, stops' },
  { to: '/run/lead-follow', name: 'Lead-follow', what: 'Two to five cars behind you, taking turns' },
  { to: '/run/corner-post', name: 'Corner post', what: 'One corner, one tap per car' },
  { to: '/run/pad', name: 'Pad', what: 'One exercise, attempt after attempt' },
] as const

/** Which run to open: those on track now, then the next ones of the day; and the other ways to work. */
export const RunStage = () => {
  const { day } = useDay()
  const navigate = useNavigate()
  const students = useQuery(studentsQuery)
  const runs = useQuery({ ...runsQuery({ dayId: day?.id ?? '' }), enabled: day !== undefined })
  const start = useStartRun(day, (runId) => navigate(`/run/${runId}`))
  const open = runs.data?.filter((r) => !r.endedAt) ?? []
  const next = day?.plan.slots.filter((s) => s.kind === 'run' && !runs.data?.some((r) => r.slotId === s.id)).slice(0, 8) ?? []
  return (
    <Stack spacing={2}>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
        <Typography variant="h1">Run</Typography>
        <RunTabs />
        <Box sx={{ flex: 1 }} />
        <SyncNote />
      </Stack>
      <ProblemNote error={start.error ?? runs.error} />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 720px) 1fr', gap: 4 }}>
        <Stack spacing={3}>
          {open.length > 0 && (
            <Box>
              <Typography variant="h2" gutterBottom>
                On track now
              </Typography>
              {open.map((run) => (
                <Button
                  key={run.id}
                  variant="contained"
                  sx={{ minHeight: 64, mr: 1, mb: 1, fontSize: '1.1rem' }}
                  component={Link}
                  to={`/run/${run.id}`}
                >
                  {run.studentName}
                </Button>
              ))}
            </Box>
          )}
          <Box>
            <Typography variant="h2" gutterBottom>
              Next in the run list: ride along
            </Typography>
            {next.length === 0 && <Typography>No more runs are planned. Plan them in the Day stage.</Typography>}
            {next.map((slot) => (
              <Stack
                key={slot.id}
                direction="row"
                spacing={2}
                sx={{ alignItems: 'center', py: 0.75, borderBottom: '1px solid', borderColor: 'divider' }}
              >
                <Typography className="figures" sx={{ width: 56 }}>
                  {slot.start}
                </Typography>
                <Typography sx={{ flex: 1, fontWeight: 600 }}>{students.data?.find((s) => s.id === slot.studentId)?.name}</Typography>
                <Button variant="outlined" disabled={start.isPending} onClick={() => start.mutate(slot)}>
                  Start the run
                </Button>
              </Stack>
            ))}
          </Box>
        </Stack>
        <Box component="section" aria-label="Other ways to work">
          <Typography variant="h2" gutterBottom>
            Not in the car?
          </Typography>
          {modes.map(({ to, name, what }) => (
            <Box
              key={to}
              component={Link}
              to={to}
              sx={{
                display: 'block',
                color: 'text.primary',
                textDecoration: 'none',
                py: 1.25,
                px: 1.5,
                mb: 1,
                borderLeft: '5px solid',
                borderColor: 'text.primary',
                '&:hover': { backgroundColor: 'var(--verge)' },
              }}
            >
              <Box sx={{ fontWeight: 650, fontSize: '1.1rem' }}>{name}</Box>
              <Box sx={{ color: 'text.secondary' }}>{what}</Box>
            </Box>
          ))}
          <Typography color="text.secondary">All of these log to the same runs; switch whenever you like.</Typography>
        </Box>
      </Box>
    </Stack>
  )
}
