import { Box, Button, Stack, Typography } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { Link, useNavigate } from 'react-router'
import { useDay } from '../../app/day-context.tsx'
import { runsQuery, studentsQuery } from '../../app/queries.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { useStartRun } from '../day/start-run.ts'

/** Which run to open: those on track now, then the next ones of the day. */
export const RunStage = () => {
  const { day } = useDay()
  const navigate = useNavigate()
  const students = useQuery(studentsQuery)
  const runs = useQuery({ ...runsQuery({ dayId: day?.id ?? '' }), enabled: day !== undefined })
  const start = useStartRun(day, (runId) => navigate(`/run/${runId}`))
  const open = runs.data?.filter((r) => !r.endedAt) ?? []
  const next = day?.plan.slots.filter((s) => s.kind === 'run' && !runs.data?.some((r) => r.slotId === s.id)).slice(0, 6) ?? []
  return (
    <Stack spacing={3} sx={{ maxWidth: 720 }}>
      <Typography variant="h1">Run</Typography>
      <ProblemNote error={start.error ?? runs.error} />
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
          Next in the run list
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
  )
}
