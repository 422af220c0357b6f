import { Box, Button, Stack, Typography } from '@mui/material'
import { api, type StudentRecord } from '@ochote/contract'
import { levelName } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useNavigate, useParams } from 'react-router'
import { addressOf } from '../../data/api/api-client.ts'
import { circuitQuery, circuitsQuery, recordQuery, studentsQuery } from '../../data/api/queries.ts'
import { download } from '../../shared/download.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { StageTabs } from '../../shared/stage-tabs.tsx'
import { AddStudent } from '../day/add-student.tsx'
import { FocusBox } from './focus-box.tsx'
import { HandOverBox } from './hand-over-box.tsx'
import { MistakesPage } from './mistakes-page.tsx'
import { recordCsv } from './record-csv.ts'
import { RunsPage } from './runs-page.tsx'
import { SkillsTable } from './skills-table.tsx'
import { useLogbook, useTell } from './use-logbook.ts'

/** The logbook: what comes next for a student, skills and levels, mistakes and corrections, runs and what was decided. */
export const RecordStage = () => {
  const { studentId } = useParams()
  const students = useQuery(studentsQuery)
  const chosen = studentId ?? students.data?.[0]?.id
  const navigate = useNavigate()
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '180px minmax(0, 1fr)', gap: 3 }}>
      <Stack component="nav" aria-label="Students" sx={{ maxHeight: 'calc(100vh - 150px)', overflowY: 'auto' }}>
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
              textAlign: 'left',
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
        {chosen && <Logbook key={chosen} studentId={chosen} />}
      </Box>
    </Box>
  )
}

const Logbook = ({ studentId }: { studentId: string }) => {
  const record = useQuery(recordQuery(studentId))
  if (!record.data) return <ProblemNote error={record.error} />
  const { student, runs } = record.data
  if (runs.length === 0) return <Typography>{`${student.name} has not driven yet. The first run fills this page.`}</Typography>
  return <Filled record={record.data} />
}

const Filled = ({ record }: { record: StudentRecord }) => {
  const { page = 'next' } = useParams()
  const { student, runs } = record
  const circuitId = runs.at(-1)?.settings.circuitId
  const circuit = useQuery({ ...circuitQuery(circuitId ?? ''), enabled: circuitId !== undefined })
  const circuits = useQuery(circuitsQuery)
  const book = useLogbook(record, circuitId)
  const { tell, error } = useTell(student.id)
  const nameOf = (cornerId: string): string => circuit.data?.notes.cornerNames[cornerId] ?? cornerId
  const others = new Set(runs.map((r) => r.settings.circuitId)).size - 1
  const words = { record, book, tell, nameOf }
  return (
    <Stack spacing={2}>
      <Stack direction="row" spacing={2} useFlexGap sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography variant="h1" component="h2">
          {student.name}
        </Typography>
        <Typography color="text.secondary">{`${levelName(student.level)}, prefers ${student.talk} coaching · ${runs.length} runs, ${new Set(runs.map((r) => r.date)).size} days${runs.some((r) => r.simulation) ? ' · simulated drives' : ''} · ${circuits.data?.find((c) => c.id === circuitId)?.name ?? ''}${others > 0 ? `; ${others} more circuits in the files` : ''}`}</Typography>
      </Stack>
      <Stack direction="row" sx={{ alignItems: 'center', borderBottom: '1px solid', borderColor: 'divider' }}>
        <StageTabs
          label="Pages of the record"
          tabs={[
            { to: `/record/${student.id}`, name: 'Next' },
            { to: `/record/${student.id}/mistakes`, name: 'Mistakes and corrections' },
            { to: `/record/${student.id}/runs`, name: 'Runs' },
          ]}
        />
        <Box sx={{ flex: 1 }} />
        <Button
          size="small"
          aria-pressed={book.state.lapsShared}
          onClick={() => tell({ kind: 'laps-shared', agreed: !book.state.lapsShared })}
        >
          {book.state.lapsShared ? 'Laps may be shown to others: withdraw' : 'May show laps to others'}
        </Button>
        <Button size="small" onClick={() => download(`${student.id}.csv`, recordCsv(record), 'text/csv')}>
          CSV
        </Button>
        <Button size="small" component="a" href={addressOf(api.exportStudent, { studentId: student.id }, undefined)} download>
          All as JSON
        </Button>
      </Stack>
      <ProblemNote error={error} />
      {page === 'mistakes' ? (
        <MistakesPage {...words} />
      ) : page === 'runs' ? (
        <RunsPage {...words} />
      ) : (
        <>
          <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)', gap: 3 }}>
            <FocusBox {...words} />
            <HandOverBox {...words} />
          </Box>
          <SkillsTable {...words} />
        </>
      )}
    </Stack>
  )
}
