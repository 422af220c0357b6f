import { Alert, AlertTitle, Box, Button } from '@mui/material'
import type { LostField } from '../data/merge/merge-fields.ts'
import { say } from '../language/say.ts'

/** Names of fields that do not read as words by themselves. */
const fieldWords: Record<string, string> = {
  settings: say`settings of the day`,
  slots: say`run list`,
  studentIds: say`students`,
  instructorIds: say`instructors`,
  checkOff: say`checks before rolling`,
  schemeId: say`cone scheme`,
  school: say`braking style`,
  method: say`line`,
  vehicleId: say`vehicle`,
  circuitId: say`circuit`,
  studentId: say`student`,
  instructorId: say`instructor`,
  carId: say`car`,
  mayDrive: say`who may drive it`,
}

/** Ids are no words: whoever reads this sees the field, not its key. */
const isId = (part: string): boolean => /^[0-9a-f-]{20,}$/.test(part)
const pathInWords = (path: readonly string[]): string =>
  path
    .filter((part) => !isId(part))
    .map((part) => fieldWords[part] ?? part.replace(/_\w+$/, '').replace(/([A-Z])/g, (capital) => ` ${capital.toLowerCase()}`))
    .join(', ')

const LONGEST = 60
const valueInWords = (value: unknown): string => {
  if (value === undefined || value === null || value === '') return 'nothing'
  const text = typeof value === 'object' ? JSON.stringify(value) : String(value)
  return text.length > LONGEST ? `${text.slice(0, LONGEST)} …` : text
}

/** Says field by field what somebody else changed at the same time, so that what was entered here was not kept. */
export const LostFields = ({ lost, onSeen }: { lost: readonly LostField[]; onSeen: () => void }) =>
  lost.length === 0 ? null : (
    <Alert
      severity="warning"
      icon={false}
      role="alert"
      sx={{ mb: 3 }}
      action={
        <Button size="small" variant="outlined" color="secondary" onClick={onSeen}>
          {say`Seen`}
        </Button>
      }
    >
      <AlertTitle>{say`Somebody else changed the same at the same time. Theirs is kept; this of yours is not:`}</AlertTitle>
      {lost.map(({ path, mine, theirs }) => (
        <Box key={path.join(' ')}>{say`${pathInWords(path)}: yours ${valueInWords(mine)}, now ${valueInWords(theirs)}`}</Box>
      ))}
    </Alert>
  )
