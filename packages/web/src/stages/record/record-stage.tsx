import { Box, Button, Stack, Typography } from '@mui/material'
import { seenAt } from '@ochote/contract'
import { type Focus, formatLapTime, type MistakeCode, mistakes, nextFocus, tallySeen } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useNavigate, useParams } from 'react-router'
import { circuitQuery, recordQuery, studentsQuery } from '../../app/queries.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { RowLink } from '../../shared/row-link.tsx'
import { AddStudent } from '../day/add-student.tsx'
import { MistakeGrid } from './mistake-grid.tsx'

/** The logbook: a student's mistakes by corner over runs and days, and the next focus. */
export const RecordStage = () => {
  const { studentId } = useParams()
  const students = useQuery(studentsQuery)
  const chosen = studentId ?? students.data?.[0]?.id
  const navigate = useNavigate()
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '190px minmax(0, 1fr)', gap: 3 }}>
      <Stack component="nav" aria-label="Students">
        <Typography variant="h1" sx={{ mb: 1 }}>
          Record
        </Typography>
        {students.data?.map((s) => (
          <Button
            key={s.id}
            variant="text"
            color="secondary"
            aria-current={s.id === chosen}
            sx={{
              justifyContent: 'flex-start',
              px: 1,
              borderLeft: '5px solid',
              borderColor: s.id === chosen ? 'primary.main' : 'transparent',
              backgroundColor: s.id === chosen ? 'var(--accentWash)' : 'transparent',
            }}
            onClick={() => navigate(`/record/${s.id}`)}
          >
            {s.name}
          </Button>
        ))}
      </Stack>
      <Box>
        <ProblemNote error={students.error} />
        {students.data?.length === 0 && (
          <Stack spacing={2}>
            <Typography>No students yet. Add the first one; what is logged in runs is kept here.</Typography>
            <AddStudent />
          </Stack>
        )}
        {chosen && <Logbook studentId={chosen} />}
      </Box>
    </Box>
  )
}

const reasonWords: Record<Focus['reason'], string> = {
  safety: 'it concerns safety',
  often: 'it comes back most',
  costly: 'it costs the most time',
}

const Logbook = ({ studentId }: { studentId: string }) => {
  const record = useQuery(recordQuery(studentId))
  const circuitId = record.data?.runs.at(-1)?.settings.circuitId
  const circuit = useQuery({ ...circuitQuery(circuitId ?? ''), enabled: circuitId !== undefined })
  if (!record.data) return <ProblemNote error={record.error} />
  const { student, runs } = record.data
  if (runs.length === 0) return <Typography>{`${student.name} has not driven yet. The first run fills this page.`}</Typography>
  const seen = seenAt(record.data, circuitId)
  const nameOf = (cornerId: string): string => circuit.data?.notes.cornerNames[cornerId] ?? cornerId
  const focus = nextFocus(seen).slice(0, 3)
  return (
    <Stack spacing={2.5}>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'baseline' }}>
        <Typography variant="h1" component="h2">
          {student.name}
        </Typography>
        <Typography color="text.secondary">{`${student.level}, likes ${student.talk} talk · ${runs.length} runs, ${new Set(runs.map((r) => r.date)).size} days${runs.some((r) => r.simulation) ? ' · simulated drives' : ''}`}</Typography>
      </Stack>
      {focus[0] ? (
        <Box component="section" aria-label="Next focus" sx={{ borderLeft: '6px solid', borderColor: 'primary.main', pl: 2 }}>
          <Typography variant="h3" component="h3" color="text.secondary">
            Next focus
          </Typography>
          <Typography
            sx={{ fontSize: '1.25rem', fontWeight: 660 }}
          >{`${nameOf(focus[0].cornerId)}: ${mistakes[focus[0].code].name.toLowerCase()}`}</Typography>
          <Typography>{`${mistakes[focus[0].code].correction} Chosen because ${reasonWords[focus[0].reason]}: seen ${focus[0].tally.count} times in ${focus[0].tally.runs} of ${runs.length} runs.`}</Typography>
          {focus.length > 1 && (
            <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
              {`Then ${focus
                .slice(1)
                .map((f) => `${nameOf(f.cornerId)}: ${mistakes[f.code].name.toLowerCase()}`)
                .join('; ')}.`}
            </Typography>
          )}
        </Box>
      ) : (
        <Typography>Nothing was logged or found so far.</Typography>
      )}
      <MistakeGrid seen={record.data.seen.filter((s) => s.circuitId === circuitId)} runs={runs} nameOf={nameOf} tallies={tallySeen(seen)} />
      <Box component="section" aria-label="Runs">
        <Typography variant="h3" component="h3" gutterBottom>
          Runs
        </Typography>
        {runs.map((run, i) => (
          <RowLink key={run.id} to={`/debrief/${run.id}`} columns="30px 110px 90px 140px 1fr">
            <span className="figures">{i + 1}</span>
            <span className="figures">{run.date}</span>
            <span className="figures">{`pace ${Math.round(run.settings.pace * 100)} %`}</span>
            <span className="figures">{run.bestLap_s === null ? 'no log' : `best ${formatLapTime(run.bestLap_s)}`}</span>
            <span>{countWords(record.data.seen, i + 1)}</span>
          </RowLink>
        ))}
      </Box>
    </Stack>
  )
}

const countWords = (seen: readonly { run: number; by: 'hand' | 'log'; code: MistakeCode }[], run: number): string => {
  const hand = seen.filter((s) => s.run === run && s.by === 'hand').length
  const log = seen.filter((s) => s.run === run && s.by === 'log').length
  return `${hand} logged in the car, ${log} found in the log`
}
