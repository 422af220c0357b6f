import { Box, Button, Checkbox, FormControlLabel, Stack, TextField, Typography } from '@mui/material'
import type { StoredStudent } from '@ochote/contract'
import { levels, nameKey } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { sessionQuery, studentLinesQuery, studentsQuery } from '../../data/api/queries.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { useStudents } from '../../data/school/use-students.ts'
import { say } from '../../language/say.ts'
import { chosenLook } from '../../look/chosen.ts'
import { columns, restOfWindow } from '../../look/columns.ts'
import { AskFirst } from '../../shared/ask-first.tsx'
import { download } from '../../shared/download.ts'
import { EraseStudent } from '../../shared/erase-student.tsx'
import { levelName } from '../../shared/language/staff-words.ts'
import { LostFields } from '../../shared/lost-fields.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { StudentFields } from '../../shared/student-fields.tsx'
import { VirtualRows } from '../../shared/virtual-rows.tsx'
import { AddStudent } from '../day/add-student.tsx'
import { PasteList } from './paste-list.tsx'
import { studentsCsv } from './students-csv.ts'

const ALL = 'all'
type LevelFilter = (typeof levels)[number] | typeof ALL

const rowColumns = '28px minmax(0, 3fr) minmax(0, 1fr) minmax(0, 1fr) minmax(0, 1.4fr)'

/** Everybody who learns here: found, added, put right, put away, made one where entered twice. */
export const PeoplePage = () => {
  const students = useQuery(studentsQuery)
  const lines = useQuery(studentLinesQuery)
  const [params, setParams] = useSearchParams()
  const [search, setSearch] = useState('')
  const [level, setLevel] = useState<LevelFilter>(ALL)
  const [away, setAway] = useState(false)
  const [pasting, setPasting] = useState(false)
  const [marked, setMarked] = useState<readonly string[]>([])
  const all = students.data ?? []
  const lineOf = useMemo(() => new Map(lines.data?.map((line) => [line.studentId, line])), [lines.data])
  const shown = all.filter(
    (s) => (away || s.archivedAt === null) && (level === ALL || s.level === level) && nameKey(s.name).includes(nameKey(search)),
  )
  const chosenId = params.get('student') ?? shown[0]?.id
  const chosen = all.find((s) => s.id === chosenId)
  const choose = (id: string): void => setParams({ student: id }, { replace: true })
  const mark = (id: string): void => setMarked((now) => (now.includes(id) ? now.filter((m) => m !== id) : [...now, id]))
  return (
    <Stack spacing={4}>
      <StageHead stage="School" facts={students.data ? countInWords(all) : undefined}>
        <Button
          size="small"
          variant="outlined"
          disabled={all.length === 0}
          onClick={() => download('students.csv', studentsCsv(all), 'text/csv')}
        >
          {say`Students as CSV`}
        </Button>
        <Button
          size="small"
          variant={all.length === 0 ? 'contained' : 'outlined'}
          aria-expanded={pasting}
          onClick={() => setPasting(!pasting)}
        >
          {say`Paste a list`}
        </Button>
      </StageHead>
      <ProblemNote error={students.error} />
      {students.isLoading && <Reading what={say`Reading the students …`} />}
      <PastTheirTime all={all} lastDayOf={(id) => lineOf.get(id)?.lastDay ?? null} />
      {pasting && <PasteList known={all} onDone={() => setPasting(false)} />}
      <AddStudent onAdded={choose} />
      {all.length === 0 && !pasting && students.data && (
        <Typography>{say`Nobody yet. Add students one by one, or paste a list from a spreadsheet.`}</Typography>
      )}
      {all.length > 0 && (
        <Box sx={columns('minmax(0, 3fr) minmax(0, 2fr)')}>
          <Stack spacing={2}>
            <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
              <TextField label={say`Search a name`} value={search} onChange={(e) => setSearch(e.target.value)} sx={{ flex: '1 1 160px' }} />
              <PickField
                label={say`Level`}
                value={level}
                options={[[ALL, say`all levels`] as const, ...levels.map((l) => [l, levelName(l)] as const)]}
                onPick={setLevel}
                width={120}
              />
              <FormControlLabel
                control={<Checkbox size="small" checked={away} onChange={(_, on) => setAway(on)} />}
                label={say`Those put away too`}
              />
            </Stack>
            {marked.length === 2 && (
              <MergeTwo
                two={marked.flatMap((id) => all.find((s) => s.id === id) ?? [])}
                onMerged={(id) => {
                  setMarked([])
                  choose(id)
                }}
              />
            )}
            {marked.length === 1 && (
              <Typography variant="text" role="status">
                {say`Mark the other entry of the same person, and the two can be made one.`}
              </Typography>
            )}
            <VirtualRows
              label={say`Students`}
              rows={shown}
              keyOf={(s) => s.id}
              rowHeight={32}
              height={restOfWindow(300)}
              head={
                <Box sx={{ display: 'grid', gridTemplateColumns: rowColumns, gap: 2, alignItems: 'center', py: 1, fontWeight: 650 }}>
                  <span />
                  <span>Name</span>
                  <span>{say`Level`}</span>
                  <span>{say`Drives`}</span>
                  <span>{say`Last day`}</span>
                </Box>
              }
              row={(s) => (
                <StudentRow
                  student={s}
                  drives={lineOf.get(s.id)?.runs ?? 0}
                  lastDay={lineOf.get(s.id)?.lastDay ?? null}
                  chosen={s.id === chosenId}
                  marked={marked.includes(s.id)}
                  onChoose={() => choose(s.id)}
                  onMark={() => mark(s.id)}
                />
              )}
            />
            {shown.length === 0 && <Typography>{say`Nobody of this name and level.`}</Typography>}
          </Stack>
          {chosen && <OneOfThem key={chosen.id} student={chosen} onGone={() => setParams({}, { replace: true })} />}
        </Box>
      )}
    </Stack>
  )
}

/** Names those whose records are older than the school wants to keep; the lead erases them one by one. */
const PastTheirTime = ({ all, lastDayOf }: { all: readonly StoredStudent[]; lastDayOf: (id: string) => string | null }) => {
  const { schoolSettings } = useSchoolSettings()
  const months = schoolSettings.retention_months
  if (months === 0) return null
  const limit = dayjs().subtract(months, 'month').format('YYYY-MM-DD')
  const old = all.filter((s) => (lastDayOf(s.id) ?? '9999') < limit)
  if (old.length === 0) return null
  return (
    <Typography role="status" sx={{ borderLeft: 'note', borderColor: 'warning.main', pl: 3 }}>
      {say`Past the ${months} months for which records are kept: `}
      {old.map((s, k) => (
        <span key={s.id}>
          {k > 0 && ', '}
          <Link to={`/school?student=${s.id}`}>{s.name}</Link>
        </span>
      ))}
      {say`. The lead can erase them.`}
    </Typography>
  )
}

const countInWords = (all: readonly StoredStudent[]): string => {
  const here = all.filter((s) => s.archivedAt === null).length
  const away = all.length - here
  return `${here} ${here === 1 ? say`student` : say`students`}${away > 0 ? say`, ${away} put away` : ''}`
}

type RowProps = {
  student: StoredStudent
  drives: number
  lastDay: string | null
  chosen: boolean
  marked: boolean
  onChoose: () => void
  onMark: () => void
}

const StudentRow = ({ student, drives, lastDay, chosen, marked, onChoose, onMark }: RowProps) => (
  <Box
    sx={{
      display: 'grid',
      gridTemplateColumns: rowColumns,
      gap: 2,
      alignItems: 'center',
      minHeight: 32,
      borderBottom: 'hair',
      borderColor: 'divider',
      fontSize: 'size.text',
      ...(chosen ? chosenLook('left') : {}),
    }}
  >
    <Checkbox
      size="small"
      checked={marked}
      onChange={onMark}
      slotProps={{ input: { 'aria-label': say`Mark ${student.name}` } }}
      sx={{ p: 0 }}
    />
    <Button
      variant="text"
      color="secondary"
      size="small"
      aria-label={chosen ? say`${student.name}, open` : student.name}
      onClick={onChoose}
      sx={{
        justifyContent: 'flex-start',
        textAlign: 'left',
        minWidth: 0,
        px: 0,
        fontWeight: 620,
      }}
    >
      {student.name}
    </Button>
    <span>{`${levelName(student.level)}${student.archivedAt ? say` · put away` : ''}`}</span>
    <span className="figures">{drives === 0 ? say`none yet` : drives}</span>
    <span className="figures">{lastDay ? dayjs(lastDay).format(say`D MMM YYYY`) : ''}</span>
  </Box>
)

/** Two entries that are one person: which one stays is asked, since its name and level stay too. */
const MergeTwo = ({ two, onMerged }: { two: readonly StoredStudent[]; onMerged: (id: string) => void }) => {
  const { merge } = useStudents()
  if (two.length !== 2) return null
  const [one, other] = two
  return (
    <Stack spacing={1} component="section" aria-label={say`One person, entered twice`}>
      <Typography variant="text">{say`${one.name} and ${other.name}: one person, entered twice? Drives, answers and links come together.`}</Typography>
      <ProblemNote error={merge.error} />
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
        {[
          [one, other],
          [other, one],
        ].map(([stays, goes]) => (
          <AskFirst
            key={stays.id}
            variant="outlined"
            label={say`Keep ${stays.name} (${levelName(stays.level)})`}
            question={say`Everything of the other entry becomes ${stays.name}’s, and that entry is gone.`}
            yes={say`Make them one`}
            pending={merge.isPending}
            onYes={() => merge.mutate({ id: stays.id, otherId: goes.id }, { onSuccess: () => onMerged(stays.id) })}
          />
        ))}
      </Stack>
    </Stack>
  )
}

const OneOfThem = ({ student, onGone }: { student: StoredStudent; onGone: () => void }) => {
  const session = useQuery(sessionQuery)
  const { fields, archive, error } = useStudents()
  const [name, setName] = useState(student.name)
  const named = name.trim().length >= 2
  return (
    <Stack spacing={3} component="section" aria-label={say`About ${student.name}`}>
      <TextField
        label="Name"
        value={name}
        error={!named}
        helperText={named ? '' : say`At least 2 characters`}
        slotProps={{ htmlInput: { maxLength: 60 } }}
        onChange={(e) => setName(e.target.value)}
        onBlur={() => {
          if (named && name.trim() !== student.name) fields.put(student, { ...student, name: name.trim() })
          else setName(student.name)
        }}
      />
      <ProblemNote error={error} />
      <LostFields lost={fields.lost} onSeen={fields.forgetLost} />
      <StudentFields student={student} onChange={(next) => fields.put(student, next)} />
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
        <Button size="small" variant="outlined" component={Link} to={`/record/${student.id}`}>
          {say`Record`}
        </Button>
        <Button
          size="small"
          variant="outlined"
          color="secondary"
          disabled={archive.isPending}
          onClick={() => archive.mutate({ id: student.id, archived: student.archivedAt === null, version: student.version })}
        >
          {student.archivedAt === null ? say`Put away` : say`Take back`}
        </Button>
        {session.data?.account?.role === 'lead' && <EraseStudent studentId={student.id} onGone={onGone} />}
      </Stack>
      <Typography variant="text" color="text.secondary">
        {student.archivedAt === null
          ? say`Whoever is put away is not offered for new days; the record stays whole, and they can be taken back.`
          : say`Put away on ${dayjs(student.archivedAt).format(say`D MMMM YYYY`)}.`}
      </Typography>
    </Stack>
  )
}
