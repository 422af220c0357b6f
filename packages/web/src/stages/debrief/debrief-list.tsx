import { Box, Button, Stack, Typography } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { runsQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { JudgingAnew } from '../../shared/judging-anew.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { RowLink } from '../../shared/row-link.tsx'
import { GroupPicture } from './group-picture.tsx'

/** Which run to look back on, the day's own first. */
export const DebriefList = () => {
  const { day } = useDay()
  const { schoolSettings, save, error } = useSchoolSettings()
  const runs = useQuery(runsQuery({}))
  const ofDay = runs.data?.filter((r) => r.dayId === day?.id) ?? []
  const others = runs.data?.filter((r) => r.dayId !== day?.id) ?? []
  const list = (title: string, items: typeof ofDay, empty: string) => (
    <Box>
      <Typography variant="h2" gutterBottom>
        {title}
      </Typography>
      {items.length === 0 && <Typography>{empty}</Typography>}
      {items.map((run) => (
        <RowLink key={run.id} to={`/debrief/${run.id}`} columns="110px 1fr 200px">
          <span className="figures">{run.date}</span>
          <Box component="span" sx={{ fontWeight: 600 }}>
            {run.studentName}
          </Box>
          <span>
            {run.submitted ? 'sent in by the student' : run.hasLog ? 'log and findings' : run.endedAt ? 'no log yet' : 'on track now'}
          </span>
        </RowLink>
      ))}
    </Box>
  )
  return (
    <Stack spacing={3} sx={{ maxWidth: 900 }}>
      <Stack direction="row" sx={{ alignItems: 'center', justifyContent: 'space-between' }}>
        <Typography variant="h1">Debrief</Typography>
        <Stack direction="row" spacing={1}>
          <Button variant="text" component={Link} to="/debrief/thresholds">
            What counts as a mistake
          </Button>
          {day && (
            <Button variant="outlined" component={Link} to={`/debrief/report/${day.id}`}>
              Report of the day
            </Button>
          )}
        </Stack>
      </Stack>
      <ProblemNote error={runs.error ?? error} />
      <JudgingAnew />
      {ofDay.length > 0 && day && <GroupPicture dayId={day.id} circuitId={day.plan.settings.circuitId} />}
      {list('This day', ofDay, 'No run of this day yet. Start one from the Day stage; its log is analysed when it ends.')}
      {others.length > 0 && list('Earlier', others, '')}
      <PickField
        label="Students read what was found in logs that they send in"
        width={420}
        value={schoolSettings.sentInFindings}
        options={[
          ['once-looked-at', 'once an instructor has looked at them'],
          ['at-once', 'at once'],
        ]}
        onPick={(sentInFindings) => save({ sentInFindings })}
      />
    </Stack>
  )
}
