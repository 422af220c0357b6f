import { Box, Button, Stack, Typography } from '@mui/material'
import type { DebriefLine, Run } from '@ochote/contract'
import { formatLapTime, mistakeName } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { Link } from 'react-router'
import { circuitQuery, debriefLinesQuery, runsQuery, vehiclesQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { JudgingAnew } from '../../shared/judging-anew.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { RowLink } from '../../shared/row-link.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { GroupPicture } from './group-picture.tsx'

/** Widths of a row's cells: student, vehicle, time, laps, quickest lap, finding, sheet. */
const rowColumns = {
  xs: 'minmax(0, 1fr)',
  sm: 'minmax(0, 3fr) minmax(0, 3fr) 4em 4em 6em minmax(0, 5fr) minmax(0, 2fr)',
}

type WhatIsThereProps = { run: Run; line: DebriefLine | undefined; cornerName: (cornerId: string) => string | undefined }

/** What of a run there is to look back on: its laps and its dearest mistake, or why there is nothing yet. */
const WhatIsThere = ({ run, line, cornerName }: WhatIsThereProps) => {
  const state = run.hasLog ? '' : run.endedAt ? 'no log yet' : 'on track now'
  const mistake = line?.costliest
  const where = mistake && cornerName(mistake.cornerId)
  return (
    <>
      <span className="figures">{line ? `${line.laps} ${line.laps === 1 ? 'lap' : 'laps'}` : ''}</span>
      <span className="figures">{line?.best_s ? formatLapTime(line.best_s) : ''}</span>
      <span>
        {mistake
          ? `${where ? `${where}: ` : ''}${where ? mistakeName(mistake.code).toLowerCase() : mistakeName(mistake.code)}`
          : line
            ? 'nothing found'
            : state}
      </span>
      <Box component="span" sx={{ color: line && !line.sheetGivenAt ? 'text.secondary' : 'inherit' }}>
        {run.submitted ? 'sent in by the student' : line && (line.sheetGivenAt ? 'sheet given' : 'sheet not given')}
      </Box>
    </>
  )
}

/** Which run to look back on, the day's own first. */
export const DebriefList = () => {
  const { day } = useDay()
  const { schoolSettings, save, error } = useSchoolSettings()
  const runs = useQuery(runsQuery({}))
  const vehicles = useQuery(vehiclesQuery)
  const lines = useQuery({ ...debriefLinesQuery, refetchOnMount: 'always' })
  const circuitId = day?.plan.settings.circuitId ?? ''
  const circuit = useQuery({ ...circuitQuery(circuitId), enabled: day !== undefined })
  const lineOf = new Map(lines.data?.map((line) => [line.runId, line]))
  /** Names of corners are known where the run was driven on the day's circuit. */
  const cornerName =
    (run: Run) =>
    (cornerId: string): string | undefined =>
      circuit.data && run.settings.circuitId === circuitId ? (circuit.data.notes.cornerNames[cornerId] ?? cornerId) : undefined
  const ofDay = runs.data?.filter((r) => r.dayId === day?.id) ?? []
  const others = runs.data?.filter((r) => r.dayId !== day?.id) ?? []
  const list = (title: string, items: typeof ofDay, empty: string) => (
    <Box key={title}>
      <Typography variant="head" gutterBottom>
        {title}
      </Typography>
      {items.length === 0 && <Typography>{empty}</Typography>}
      {items.map((run) => (
        <RowLink key={run.id} to={`/debrief/${run.id}`} columns={rowColumns}>
          <Box component="span" sx={{ fontWeight: 600 }}>
            {run.studentName}
          </Box>
          <span>{vehicles.data?.find((v) => v.id === run.settings.vehicleId)?.name ?? ''}</span>
          <span className="figures">{new Date(run.startedAt).toTimeString().slice(0, 5)}</span>
          <WhatIsThere run={run} line={lineOf.get(run.id)} cornerName={cornerName(run)} />
        </RowLink>
      ))}
    </Box>
  )
  const dates = [...new Set(others.map((run) => run.date))].sort().reverse()
  return (
    <Stack spacing={5} sx={{ maxWidth: 1200 }}>
      <StageHead stage="Debrief">
        {day && (
          <Button variant="outlined" size="small" component={Link} to={`/debrief/report/${day.id}`}>
            Report of the day
          </Button>
        )}
      </StageHead>
      <ProblemNote error={runs.error ?? error} />
      <JudgingAnew />
      {ofDay.length > 0 && day && <GroupPicture dayId={day.id} circuitId={day.plan.settings.circuitId} />}
      {runs.isPending && <Reading what="Reading the runs …" />}
      {runs.data && list('This day', ofDay, 'No run of this day yet. Start one from the Day stage; its log is analysed when it ends.')}
      {dates.map((date) =>
        list(
          dayjs(date).format('dddd D MMMM YYYY'),
          others.filter((run) => run.date === date),
          '',
        ),
      )}
      <PickField
        label="Students read what was found in logs that they send in"
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
