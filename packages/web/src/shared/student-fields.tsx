import { Stack, TextField } from '@mui/material'
import type { StoredStudent } from '@ochote/contract'
import { intensities, languages, levels } from '@ochote/core'
import { say } from '../language/say.ts'
import { levelName } from './language/staff-words.ts'
import { wordsIn } from './language/words.ts'
import { PickField } from './pick-field.tsx'

const unitOptions = [
  ['metric', 'metric'],
  ['imperial', 'imperial'],
] as const
const languageOptions = [['none', say`not said: English`] as const, ...languages.map((l) => [l, wordsIn(l).language] as const)]

/** What is known of a student, each field saved as it is left. */
export const StudentFields = ({ student, onChange }: { student: StoredStudent; onChange: (next: StoredStudent) => void }) => {
  const { profile } = student
  const put = (next: Partial<StoredStudent>): void => onChange({ ...student, ...next })
  const text = (label: string, key: 'experience' | 'car' | 'goals') => (
    <TextField
      key={`${key} ${profile[key]}`}
      label={label}
      defaultValue={profile[key]}
      multiline={key !== 'car'}
      slotProps={{ htmlInput: { maxLength: key === 'car' ? 80 : 300 } }}
      onBlur={(e) => e.target.value !== profile[key] && put({ profile: { ...profile, [key]: e.target.value } })}
    />
  )
  return (
    <Stack spacing={3}>
      <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap' }}>
        <PickField
          label={say`Level`}
          value={student.level}
          options={levels.map((l) => [l, levelName(l)] as const)}
          onPick={(level) => put({ level })}
          width={110}
        />
        <PickField
          label={say`Talk`}
          value={student.talk}
          options={intensities.map((t) => [t, t] as const)}
          onPick={(talk) => put({ talk })}
          width={100}
        />
        <PickField label={say`Units`} value={student.units} options={unitOptions} onPick={(units) => put({ units })} width={100} />
        <PickField
          label={say`Language`}
          value={profile.language ?? 'none'}
          options={languageOptions}
          onPick={(l) => put({ profile: { ...profile, language: l === 'none' ? null : l } })}
          width={150}
        />
      </Stack>
      {text(say`Experience`, 'experience')}
      {text(say`Own car`, 'car')}
      {text(say`Wants from the day`, 'goals')}
    </Stack>
  )
}
