import { Box, Stack, Typography } from '@mui/material'
import type { Run } from '@ochote/contract'
import { Link } from 'react-router'
import { DayProvider } from '../../data/day/day-context.tsx'
import { useDayPart } from '../../data/day/use-day-part.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say, sayWhole } from '../../language/say.ts'
import { PickField } from '../../shared/pick-field.tsx'

const Choice = ({ run }: { run: Run }) => {
  const { value: work, change, kept } = useDayPart('calls')
  const { books } = useSchoolSettings()
  return (
    <Stack direction="row" useFlexGap spacing={2} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
      <Typography sx={{ width: 200, flex: 'none' }}>{say`Words of the calls`}</Typography>
      <PickField
        label={say`Words of the calls`}
        hideLabel
        value={work.bookId}
        disabled={!kept}
        options={books.map((b) => [b.id, sayWhole(b.name)] as const)}
        onPick={(bookId) => change({ bookId })}
        width={330}
      />
      <Box component={Link} to={`/brief/calls?panel=book&day=${run.dayId}`} sx={{ color: 'inherit' }}>
        {say`Change the words`}
      </Box>
    </Stack>
  )
}

/** The phrase book of the run's day, to be changed between two runs. */
export const BookOfRun = ({ run }: { run: Run }) => (
  <DayProvider dayId={run.dayId}>
    <Choice run={run} />
  </DayProvider>
)
