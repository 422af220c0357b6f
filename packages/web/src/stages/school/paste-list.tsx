import { Box, Button, Checkbox, Stack, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from '@mui/material'
import { api, type NewStudent, type StoredStudent } from '@ochote/contract'
import {
  CoreError,
  type ListedPerson,
  nameKey,
  type PeopleField,
  type PeopleList,
  peopleFields,
  peopleOf,
  readPeopleList,
} from '@ochote/core'
import { useMutation } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { queryClient, studentsQuery } from '../../data/api/queries.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say } from '../../language/say.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import { levelName } from '../../shared/language/staff-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { RowTable } from '../../shared/row-table.tsx'

const fieldNames: Record<PeopleField, string> = {
  name: 'Name',
  firstName: say`First name`,
  lastName: say`Last name`,
  level: say`Level`,
  talk: say`Talk`,
  language: say`Language`,
  units: say`Units`,
  car: say`Own car`,
  experience: say`Experience`,
  goals: say`Wants from the day`,
}
const UNUSED = 'unused'

/** Why a person of the list may be here already; null where not. */
type Twin = { why: string } | null

/** Students that a list would add: each with an id of its own, so that sending twice adds once. */
type Candidate = { person: ListedPerson; id: string; twin: Twin }

/** Longest list that is taken at once. */
const MOST = 500

const candidatesOf = (people: readonly ListedPerson[], ids: readonly string[], known: readonly StoredStudent[]): Candidate[] => {
  const here = new Map(known.map((s) => [nameKey(s.name), s]))
  const before = new Map<string, number>()
  return people.slice(0, MOST).map((person, k) => {
    const key = nameKey(person.name)
    const student = here.get(key)
    const line = before.get(key)
    before.set(key, line ?? k + 1)
    const twin = student
      ? { why: say`here already${student.archivedAt ? say` (put away)` : ''}, ${levelName(student.level)}` }
      : line === undefined
        ? null
        : { why: say`the same as line ${line} of this list` }
    return { person, id: ids[k], twin }
  })
}

/** Reads a pasted text; null where there is nothing yet, the error where it cannot be read. */
const readList = (text: string): { list: PeopleList | null; error: CoreError | null } => {
  if (text.trim() === '') return { list: null, error: null }
  try {
    return { list: readPeopleList(text), error: null }
  } catch (error) {
    if (error instanceof CoreError) return { list: null, error }
    throw error
  }
}

/** Students out of a spreadsheet or a CSV file: pasted, columns said, duplicates shown, then added together. */
export const PasteList = ({ known, onDone }: { known: readonly StoredStudent[]; onDone: () => void }) => {
  const { schoolSettings } = useSchoolSettings()
  const [text, setText] = useState('')
  const [file, setFile] = useState<File | null>(null)
  const { list, error } = useMemo(() => readList(text), [text])
  const [mapped, setMapped] = useState<{ columns: string; mapping: (PeopleField | null)[] } | null>(null)
  const columnKey = list?.columns.join('|') ?? ''
  const mapping = mapped?.columns === columnKey ? mapped.mapping : (list?.guess ?? [])
  // Ids stay with their lines as long as the text stays: a second press sends the same people.
  const ids = useMemo(() => Array.from({ length: list?.rows.length ?? 0 }, () => uuid()), [list])
  const candidates = useMemo(() => (list ? candidatesOf(peopleOf(list, mapping), ids, known) : []), [list, mapping, ids, known])
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set())
  const taken = candidates.filter(({ id, twin }) => (twin === null) !== turned.has(id))
  const add = useMutation({
    mutationFn: () =>
      call(api.addStudents, { body: { students: taken.map(({ person, id }) => newStudentOf(person, id, schoolSettings.staff.units)) } }),
    onSuccess: (students) => {
      queryClient.setQueryData(studentsQuery.queryKey, students)
      onDone()
    },
  })
  const chooseFile = (chosen: File | null): void => {
    setFile(chosen)
    if (chosen) void chosen.text().then(setText)
  }
  const setColumn = (k: number, field: PeopleField | typeof UNUSED): void =>
    setMapped({
      columns: columnKey,
      // A field stands in one column alone.
      mapping: mapping.map((now, i) => (i === k ? (field === UNUSED ? null : field) : now === field ? null : now)),
    })
  return (
    <Stack spacing={3} component="section" aria-label={say`Paste a list`} sx={{ borderLeft: 'note', borderColor: 'text.primary', pl: 4 }}>
      <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'flex-start', flexWrap: 'wrap' }}>
        <TextField
          label={say`Names, or rows copied from a spreadsheet`}
          multiline
          minRows={3}
          maxRows={8}
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ flex: '1 1 320px' }}
        />
        <FileChoice label={say`Or choose a CSV file`} accept=".csv,.txt,.tsv" file={file} onChoose={chooseFile} />
      </Stack>
      <ProblemNote error={error ?? add.error} />
      {list && (
        <>
          <Stack direction="row" useFlexGap spacing={3} role="group" aria-label={say`What each column is`} sx={{ flexWrap: 'wrap' }}>
            {list.columns.map((name, k) => (
              <PickField
                // biome-ignore lint/suspicious/noArrayIndexKey: columns have their place alone
                key={k}
                label={`${name}${list.rows[0]?.[k] ? ` (${list.rows[0][k].slice(0, 18)} …)` : ''}`}
                value={mapping[k] ?? UNUSED}
                options={[[UNUSED, say`not used`] as const, ...peopleFields.map((f) => [f, fieldNames[f]] as const)]}
                onPick={(field) => setColumn(k, field)}
                width={170}
              />
            ))}
          </Stack>
          <Candidates
            candidates={candidates}
            taken={new Set(taken.map((c) => c.id))}
            onTurn={(id) =>
              setTurned((now) => {
                const next = new Set(now)
                if (!next.delete(id)) next.add(id)
                return next
              })
            }
          />
          <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
            <Button variant="contained" disabled={taken.length === 0 || add.isPending} onClick={() => add.mutate()}>
              {say`Add ${taken.length} ${taken.length === 1 ? say`student` : say`students`}`}
            </Button>
            <Button variant="outlined" color="secondary" onClick={onDone}>
              {say`Close`}
            </Button>
            <Typography role="status" variant="text">
              {summaryOf(list, candidates)}
            </Typography>
          </Stack>
        </>
      )}
    </Stack>
  )
}

const newStudentOf = (person: ListedPerson, id: string, units: 'metric' | 'imperial'): NewStudent => ({
  id,
  name: person.name,
  level: person.level ?? 'first-day',
  talk: person.talk ?? 'guided',
  units: person.units ?? units,
  profile: { experience: person.experience, car: person.car, goals: person.goals, worries: [], language: person.language ?? null },
})

const summaryOf = (list: PeopleList, candidates: readonly Candidate[]): string => {
  const twins = candidates.filter((c) => c.twin).length
  const unread = list.rows.length - candidates.length
  return [
    say`${candidates.length} ${candidates.length === 1 ? say`person` : say`people`} in the list`,
    ...(twins > 0 ? [say`${twins} may be here already: tick those that are somebody else`] : []),
    ...(unread > 0
      ? [say`${unread} ${unread === 1 ? say`line has` : say`lines have`} no name and ${unread === 1 ? say`is` : say`are`} left out`]
      : []),
  ].join('; ')
}

/** Those with something to look at stand first. */
const lookedAtFirst = (candidates: readonly Candidate[]): Candidate[] => {
  const asks = ({ twin, person }: Candidate): boolean => twin !== null || person.unknown.length > 0
  return [...candidates.filter(asks), ...candidates.filter((c) => !asks(c))]
}

const Candidates = ({
  candidates,
  taken,
  onTurn,
}: {
  candidates: readonly Candidate[]
  taken: ReadonlySet<string>
  onTurn: (id: string) => void
}) => (
  <RowTable aria-label={say`People in the list`} maxHeight="320px">
    <TableHead>
      <TableRow>
        {[say`Add`, 'Name', say`Level`, say`Language`, say`Own car`, say`To look at`].map((name) => (
          <TableCell key={name}>{name}</TableCell>
        ))}
      </TableRow>
    </TableHead>
    <TableBody>
      {lookedAtFirst(candidates).map(({ person, id, twin }) => (
        <TableRow key={id}>
          <TableCell padding="checkbox">
            <Checkbox
              size="small"
              checked={taken.has(id)}
              onChange={() => onTurn(id)}
              slotProps={{ input: { 'aria-label': say`Add ${person.name}` } }}
            />
          </TableCell>
          <TableCell sx={{ fontWeight: 600 }}>{person.name}</TableCell>
          <TableCell>{levelName(person.level ?? 'first-day')}</TableCell>
          <TableCell>{person.language ?? ''}</TableCell>
          <TableCell>{person.car}</TableCell>
          <TableCell>
            <Box component="span" sx={{ color: 'warning.main' }}>
              {[
                ...(twin ? [twin.why] : []),
                ...person.unknown.map(({ field, text }) => say`${fieldNames[field]} “${text}” is not known`),
              ].join('; ')}
            </Box>
          </TableCell>
        </TableRow>
      ))}
    </TableBody>
  </RowTable>
)
