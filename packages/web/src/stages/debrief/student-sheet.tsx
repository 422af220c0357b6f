import { Box, Button, Stack, Typography } from '@mui/material'
import { standingObservations } from '@ochote/contract'
import { type Corner, evidenceInWords, formatLapTime, mistakes, nextFocus, type Plan, type Seen } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useNavigate, useParams } from 'react-router'
import { debriefQuery, runEventsQuery, runQuery } from '../../app/queries.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { leading } from '../../shared/marks/mark-glyph.tsx'
import { usePlan } from '../../shared/plan/use-plan.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'

/** One page for the student: what held, three things to work on, what next. Plain words, A4. */
export const StudentSheet = () => {
  const { runId = '' } = useParams()
  const run = useQuery(runQuery(runId))
  const debrief = useQuery(debriefQuery(runId))
  const events = useQuery(runEventsQuery(runId))
  const { plan, error } = usePlan(run.data?.settings)
  const navigate = useNavigate()
  if (!run.data || !debrief.data || !events.data || !plan)
    return <ProblemNote error={run.error ?? debrief.error ?? events.error ?? error} />
  const observations = standingObservations(events.data)
  const roots = debrief.data.findings.filter((f) => f.root)
  const seen: Seen[] = [
    ...roots.map((f) => ({ cornerId: f.cornerId, code: f.code, run: 1, by: 'log' as const, lossTime_s: f.lossTime_s })),
    ...observations.map((o) => ({ cornerId: o.cornerId, code: o.code, run: 1, by: 'hand' as const })),
  ]
  const focus = nextFocus(seen).slice(0, 3)
  const held = plan.corners.filter((c) => !seen.some((s) => s.cornerId === c.id))
  const nameOf = (cornerId: string): string => plan.corners.find((c) => c.id === cornerId)?.name ?? cornerId
  const example = (cornerId: string, code: string): string => {
    const finding = roots.find((f) => f.cornerId === cornerId && f.code === code)
    return finding
      ? `Lap ${finding.lap}: ${evidenceInWords(finding.code, finding.evidence)}.`
      : 'Your instructor saw it from the seat beside you.'
  }
  return (
    <LapSelectionProvider>
      <Stack
        component="main"
        spacing={2.5}
        sx={{ width: 'min(182mm, calc(100vw - 32px))', mx: 'auto', my: 2, '@media print': { my: 0, width: '182mm' } }}
      >
        <Stack direction="row" spacing={1} className="no-print">
          <Button variant="contained" onClick={() => window.print()}>
            Print
          </Button>
          <Button variant="outlined" onClick={() => navigate(`/debrief/${runId}`)}>
            Back to the debrief
          </Button>
        </Stack>
        <Box>
          <Typography variant="h1">{run.data.studentName}</Typography>
          <Typography>{`${run.data.date}, ${plan.circuit.name}, ${plan.vehicle.name}. ${debrief.data.laps.length} laps, the quickest ${formatLapTime(Math.min(...debrief.data.laps.map((l) => l.time_s)))}${run.data.simulation ? ' (simulated)' : ''}.`}</Typography>
        </Box>
        <Held corners={held} />
        <Typography variant="h2">{focus.length === 0 ? 'Nothing stood out. Keep it like this.' : 'To work on'}</Typography>
        {focus.map((f, i) => (
          <Box
            key={f.cornerId}
            className="keep-together"
            sx={{
              display: 'grid',
              gridTemplateColumns: { xs: '1fr', sm: '1fr 62mm' },
              gap: 2,
              borderTop: '2px solid',
              borderColor: 'text.primary',
              pt: 1,
            }}
          >
            <Box>
              <Typography sx={{ fontWeight: 680 }}>{`${i + 1}. ${nameOf(f.cornerId)}: ${mistakes[f.code].name.toLowerCase()}`}</Typography>
              <Typography>{example(f.cornerId, f.code)}</Typography>
              <Typography sx={{ mt: 0.5, fontWeight: 600 }}>{mistakes[f.code].correction}</Typography>
            </Box>
            <CornerDrawing plan={plan} cornerId={f.cornerId} />
          </Box>
        ))}
        {focus[0] && (
          <Box className="keep-together" sx={{ borderLeft: '6px solid', borderColor: 'primary.main', pl: 2 }}>
            <Typography variant="h2">Next run</Typography>
            <Typography>{`Only this: ${nameOf(focus[0].cornerId)}. ${mistakes[focus[0].code].correction}`}</Typography>
          </Box>
        )}
        <Typography variant="body2" color="text.secondary">
          Change at most one car length a lap, with an instructor, at a circuit. Never on a public road. The instructor decides; the venue’s
          rules come first.
        </Typography>
      </Stack>
    </LapSelectionProvider>
  )
}

const Held = ({ corners }: { corners: readonly Corner[] }) => (
  <Box>
    <Typography variant="h2">What held</Typography>
    <Typography>
      {corners.length > 0
        ? `${corners.map((c) => c.name).join(', ')}: every lap within the plan’s marks.`
        : 'Every corner had something; that is what a first run is for.'}
    </Typography>
  </Box>
)

const CornerDrawing = ({ plan, cornerId }: { plan: Plan; cornerId: string }) => (
  <LapSelectionProvider initialCornerId={cornerId}>
    <GroundView
      plan={plan}
      marks={plan.marks.filter((m) => m.cornerId === cornerId && leading.has(m.kind))}
      height="42mm"
      bare
      label={`Drawing of ${cornerId}`}
    />
  </LapSelectionProvider>
)
