import { Box, Button, Stack, Typography } from '@mui/material'
import { api, type StudentRecord } from '@ochote/contract'
import { levelName } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useNavigate, useParams } from 'react-router'
import { addressOf } from '../../data/api/api-client.ts'
import { circuitQuery, circuitsQuery, recordQuery, studentsQuery } from '../../data/api/queries.ts'
import { chosenLook } from '../../look/chosen.ts'
import { columns, restOfWindow } from '../../look/columns.ts'
import { download } from '../../shared/download.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
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
    <Stack spacing={4}>
      <StageHead stage="Record" />
      <Box sx={columns('180px minmax(0, 1fr)')}>
        <Stack component="nav" aria-label="Students" sx={{ maxHeight: { xs: '30dvh', md: restOfWindow(150) }, overflowY: 'auto' }}>
          {students.data?.map((s) => (
            <Button
              key={s.id}
              variant="text"
              color="secondary"
              aria-current={s.id === chosen ? 'page' : undefined}
              sx={{ justifyContent: 'flex-start', textAlign: 'left', ...(s.id === chosen ? { '&&': chosenLook('left') } : {}) }}
              onClick={() => navigate(`/record/${s.id}`)}
            >
              {s.name}
            </Button>
          ))}
        </Stack>
        <Box>
          <ProblemNote error={students.error} />
          {students.data?.length === 0 && (
            <Stack spacing={4}>
              <Typography>No students yet. Add the first one; what is logged in runs is kept here.</Typography>
              <AddStudent />
            </Stack>
          )}
          {chosen && <Logbook key={chosen} studentId={chosen} />}
        </Box>
      </Box>
    </Stack>
  )
}

const Logbook = ({ studentId }: { studentId: string }) => {
  const record = useQuery(recordQuery(studentId))
  if (!record.data)
    return record.error ? (
      <ProblemNote error={record.error} />
    ) : record.fetchStatus === 'paused' ? (
      <Typography role="status">
        No network: this record was not read on this device yet. It comes by itself when the network is back.
      </Typography>
    ) : (
      <Reading what="Reading the record …" />
    )
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
    <Stack spacing={4}>
      <Stack direction="row" spacing={4} useFlexGap sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography variant="head">{student.name}</Typography>
        <Typography color="text.secondary">{`${levelName(student.level)}, prefers ${student.talk} coaching · ${runs.length} runs, ${new Set(runs.map((r) => r.date)).size} days${runs.some((r) => r.simulation) ? ' · simulated drives' : ''} · ${circuits.data?.find((c) => c.id === circuitId)?.name ?? ''}${others > 0 ? `; ${others} more circuits in the files` : ''}`}</Typography>
      </Stack>
      <Stack direction="row" sx={{ alignItems: 'center', flexWrap: 'wrap', borderBottom: 'hair', borderColor: 'divider' }}>
        <StageTabs
          label="Pages of the record"
          tabs={[
            { to: `/record/${student.id}`, name: 'Next', also: '/record' },
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
          <Box sx={columns('minmax(0, 1fr) minmax(0, 1fr)')}>
            <FocusBox {...words} />
            <HandOverBox {...words} />
          </Box>
          <SkillsTable {...words} />
        </>
      )}
    </Stack>
  )
}
