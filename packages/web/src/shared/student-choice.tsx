import { MenuItem, TextField } from '@mui/material'
import type { Student } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { studentsQuery } from '../data/api/queries.ts'
import { say } from '../language/say.ts'

/** For whom something is shown: one student, or anybody (null). */
export const StudentChoice = ({ studentId, onChoose }: { studentId: string | null; onChoose: (student: Student | null) => void }) => {
  const students = useQuery(studentsQuery)
  return (
    <TextField
      select
      label={say`Student`}
      value={studentId ?? 'any'}
      onChange={(e) => onChoose(students.data?.find((s) => s.id === e.target.value) ?? null)}
      sx={{ width: 170 }}
    >
      <MenuItem value="any">{say`anybody`}</MenuItem>
      {students.data?.map((s) => (
        <MenuItem key={s.id} value={s.id}>
          {s.name}
        </MenuItem>
      ))}
    </TextField>
  )
}
