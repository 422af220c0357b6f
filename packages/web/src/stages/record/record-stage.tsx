import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api, type StoredStudent, type StudentRecord } from '@ochote/contract'
import { levels, nameKey } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { addressOf } from '../../data/api/api-client.ts'
import { circuitQuery, circuitsQuery, recordQuery, studentLinesQuery, studentsQuery } from '../../data/api/queries.ts'
import { inside, say } from '../../language/say.ts'
import { chosenLook } from '../../look/chosen.ts'
import { columns, restOfWindow } from '../../look/columns.ts'
import { download } from '../../shared/download.ts'
import { levelName, mistakeName } from '../../shared/language/staff-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { StageTabs } from '../../shared/stage-tabs.tsx'
import { VirtualRows } from '../../shared/virtual-rows.tsx'
import { intensityWords } from '../brief/call-options.tsx'
import { AddStudent } from '../day/add-student.tsx'
import { FocusBox } from './focus-box.tsx'
import { FromMemory } from './from-memory.tsx'
import { HandOverBox } from './hand-over-box.tsx'
import { MistakesPage } from './mistakes-page.tsx'
import { PadTries } from './pad-tries.tsx'
import { recordCsv } from './record-csv.ts'
import { RunsPage } from './runs-page.tsx'
import { SkillsTable } from './skills-table.tsx'
import { useLogbook, useTell } from './use-logbook.ts'

/** The logbook: what comes next for a student, skills and levels, mistakes and corrections, runs and what was decided. */
export const RecordStage = () => {
  const { studentId } = useParams()
  const students = useQuery(studentsQuery)
  const lines = useQuery(studentLinesQuery)
  const [search, setSearch] = useState('')
  const [level, setLevel] = useState<'all' | (typeof levels)[number]>('all')
  const shown = (students.data ?? []).filter(
    (s) =>
      (s.archivedAt === null || s.id === studentId) && (level === 'all' || s.level === level) && nameKey(s.name).includes(nameKey(search)),
  )
  const chosen = studentId ?? shown[0]?.id
  const navigate = useNavigate()
  const alsoOf = (s: StoredStudent): string => {
    const line = lines.data?.find((l) => l.studentId === s.id)
    return [
      levelName(s.level),
      line?.lastDay ? dayjs(line.lastDay).format(say`D MMM YYYY`) : say`not driven yet`,
      line?.focus ? inside(mistakeName(line.focus.code)) : '',
    ]
      .filter(Boolean)
      .join(' · ')
  }
  return (
    <Stack spacing={4}>
      <StageHead stage="Record" />
      <Box sx={columns('230px minmax(0, 1fr)')}>
        <Stack spacing={2}>
          <Stack direction="row" spacing={2} sx={{ alignItems: 'flex-end' }}>
            <TextField
              label={say`Search a name`}
              value={search}
              onChange={(e) => setSearch(e.target.value)}
              sx={{ flex: 1, minWidth: 0 }}
            />
            <PickField
              label={say`Level`}
              value={level}
              options={[['all', say`all`] as const, ...levels.map((l) => [l, levelName(l)] as const)]}
              onPick={setLevel}
              width={92}
            />
          </Stack>
          <VirtualRows
            label={say`Students`}
            rows={shown}
            keyOf={(s) => s.id}
            rowHeight={44}
            height={restOfWindow(220, 260)}
            row={(s) => (
              <StudentLink name={s.name} also={alsoOf(s)} chosen={s.id === chosen} onChoose={() => navigate(`/record/${s.id}`)} />
            )}
          />
          {students.data && students.data.length > 0 && shown.length === 0 && (
            <Typography variant="text">{say`Nobody of this name and level.`}</Typography>
          )}
        </Stack>
        <Box>
          <ProblemNote error={students.error} />
          {students.data?.length === 0 && (
            <Stack spacing={4}>
              <Typography>{say`No students yet. Add the first one; what is logged in runs is kept here.`}</Typography>
              <AddStudent />
            </Stack>
          )}
          {chosen && <Logbook key={chosen} studentId={chosen} />}
        </Box>
      </Box>
    </Stack>
  )
}

/** A student of the list: name, level, last day, and the focus that is set. */
const StudentLink = ({ name, also, chosen, onChoose }: { name: string; also: string; chosen: boolean; onChoose: () => void }) => (
  <Button
    variant="text"
    color="secondary"
    aria-current={chosen ? 'page' : undefined}
    sx={{ display: 'block', width: 1, textAlign: 'left', lineHeight: 1.2, ...(chosen ? { '&&': chosenLook('left') } : {}) }}
    onClick={onChoose}
  >
    {name}
    <Box component="span" sx={{ display: 'block', fontSize: 'size.note', fontWeight: 400, color: 'text.secondary' }}>
      {also}
    </Box>
  </Button>
)

const Logbook = ({ studentId }: { studentId: string }) => {
  const record = useQuery(recordQuery(studentId))
  if (!record.data)
    return record.error ? (
      <ProblemNote error={record.error} />
    ) : record.fetchStatus === 'paused' ? (
      <Typography role="status">
        {say`No network: this record was not read on this device yet. It comes by itself when the network is back.`}
      </Typography>
    ) : (
      <Reading what={say`Reading the record …`} />
    )
  const { student, runs, pad, recall } = record.data
  if (runs.length === 0)
    return (
      <Stack spacing={5}>
        <Typography>{say`${student.name} has not driven yet. The first run fills this page.`}</Typography>
        {pad.length > 0 && <PadTries tries={pad} />}
        {recall.length > 0 && <BeforeDriving record={record.data} />}
      </Stack>
    )
  return <Filled record={record.data} />
}

/** What a student who has not driven yet did at home. */
const BeforeDriving = ({ record }: { record: StudentRecord }) => {
  const circuitId = record.recall.at(-1)?.circuitId
  const circuit = useQuery({ ...circuitQuery(circuitId ?? ''), enabled: circuitId !== undefined })
  return <FromMemory record={record} circuitId={circuitId} nameOf={(id) => circuit.data?.notes.cornerNames[id] ?? id} />
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
        <Typography color="text.secondary">{say`${levelName(student.level)}, prefers ${inside(intensityWords[student.talk])} coaching · ${runs.length} runs, ${new Set(runs.map((r) => r.date)).size} days${runs.some((r) => r.simulation) ? say` · simulated drives` : ''} · ${circuits.data?.find((c) => c.id === circuitId)?.name ?? ''}${others > 0 ? say`; ${others} more circuits in the files` : ''}`}</Typography>
      </Stack>
      <Stack direction="row" sx={{ alignItems: 'center', flexWrap: 'wrap', borderBottom: 'hair', borderColor: 'divider' }}>
        <StageTabs
          label={say`Pages of the record`}
          tabs={[
            { to: `/record/${student.id}`, name: say`Next`, also: '/record' },
            { to: `/record/${student.id}/mistakes`, name: say`Mistakes and corrections` },
            { to: `/record/${student.id}/runs`, name: say`Runs` },
          ]}
        />
        <Box sx={{ flex: 1 }} />
        <Button
          size="small"
          aria-pressed={book.state.lapsShared}
          onClick={() => tell({ kind: 'laps-shared', agreed: !book.state.lapsShared })}
        >
          {book.state.lapsShared ? say`Laps may be shown to others: withdraw` : say`May show laps to others`}
        </Button>
        <Button size="small" onClick={() => download(`${student.id}.csv`, recordCsv(record), 'text/csv')}>
          CSV
        </Button>
        <Button size="small" component="a" href={addressOf(api.exportStudent, { studentId: student.id }, undefined)} download>
          {say`All as JSON`}
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
