import { Box, Stack, Typography } from '@mui/material'
import type { StudentDecision } from '@ochote/contract'
import { formatDate, formatLapTime } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { vehiclesQuery } from '../../data/api/queries.ts'
import { inside, say, staffLanguage } from '../../language/say.ts'
import { levelName, mistakeName, skillName, staffWords } from '../../shared/language/staff-words.ts'
import { RowLink } from '../../shared/row-link.tsx'
import { actionWords, incidentWords } from '../run/run-words.ts'
import type { LogbookPage } from './logbook-page.ts'
import { PadTries } from './pad-tries.tsx'

/** Runs with their conditions, incidents, and what was decided when and by whom. */
export const RunsPage = ({ record, nameOf }: LogbookPage) => {
  const vehicles = useQuery(vehiclesQuery)
  const carOf = (id: string): string => vehicles.data?.find((v) => v.id === id)?.name ?? id
  const { runs, seen, incidents, decisions, pad } = record
  return (
    <Stack spacing={5}>
      <Box component="section" aria-label={say`Runs`}>
        <Typography variant="head" component="h3" gutterBottom>
          {say`Runs`}
        </Typography>
        {runs.map((run, i) => (
          <RowLink
            key={run.id}
            to={`/debrief/${run.id}`}
            columns={{ xs: '26px minmax(0, 1fr)', md: '26px 92px 170px 150px 64px 128px minmax(0, 1fr)' }}
          >
            <span className="figures">{i + 1}</span>
            <span className="figures">{formatDate(run.date, staffLanguage)}</span>
            <span>{carOf(run.settings.vehicleId)}</span>
            <span className="figures">{say`${staffWords.surfaces[run.settings.surface]}, pace ${[run.settings.pace, ...run.paces].map((p) => Math.round(p * 100)).join(' → ')}%`}</span>
            <span className="figures">{say`${run.laps} laps`}</span>
            <span className="figures">{run.bestLap_s === null ? say`no log` : say`best ${formatLapTime(run.bestLap_s)}`}</span>
            <span>{countWords(seen, i + 1)}</span>
          </RowLink>
        ))}
      </Box>
      <Box component="section" aria-label={say`Incidents`}>
        <Typography variant="head" component="h3" gutterBottom>
          {say`Incidents`}
        </Typography>
        {incidents.length === 0 && <Typography variant="text">{say`None.`}</Typography>}
        {incidents.map((incident) => (
          <Typography key={`${incident.date}${incident.what}${incident.cornerId}`} variant="text">
            {`${formatDate(incident.date, staffLanguage)}: ${inside(incidentWords[incident.what])}${incident.cornerId ? say` at ${nameOf(incident.cornerId)}` : ''}, ${actionWords[incident.action]}`}
          </Typography>
        ))}
      </Box>
      <PadTries tries={pad} />
      <Box component="section" aria-label={say`Decided`}>
        <Typography variant="head" component="h3" gutterBottom>
          {say`Decided`}
        </Typography>
        {decisions.length === 0 && (
          <Typography variant="text">{say`Nothing yet: skills, levels, focus and hand-over that people set are listed here.`}</Typography>
        )}
        {[...decisions].reverse().map((decision) => (
          <Typography key={decision.event.id} variant="text">
            <Box component="span" className="figures" sx={{ color: 'text.secondary', mr: 2 }}>
              {decision.event.at.slice(0, 16).replace('T', ' ')}
            </Box>
            {`${decision.by ?? say`somebody`}: ${toldInWords(decision, nameOf)}`}
          </Typography>
        ))}
      </Box>
    </Stack>
  )
}

/** A decision in a few words. */
export const toldInWords = ({ event }: StudentDecision, nameOf: (cornerId: string) => string): string => {
  switch (event.kind) {
    case 'skill-confirmed':
      return say`confirmed ${skillName(event.skill)} (the record: ${event.shows})`
    case 'skill-withdrawn':
      return say`withdrew ${skillName(event.skill)}${event.why ? `: ${event.why}` : ''}`
    case 'level-set':
      return say`set the level to “${levelName(event.level)}”${event.why ? `: ${event.why}` : ''}`
    case 'focus-set':
      return event.focus
        ? say`set the focus to ${nameOf(event.focus.cornerId)}, ${inside(mistakeName(event.focus.code))}: ${event.note}`
        : say`went back to the focus of the record`
    case 'hand-over':
      return event.text === null ? say`went back to the hand-over of the record` : say`wrote the hand-over`
    case 'laps-shared':
      return event.agreed ? say`noted that laps may be shown to others` : say`noted that laps may not be shown to others`
  }
}

const countWords = (seen: LogbookPage['record']['seen'], run: number): string => {
  const count = (by: 'hand' | 'log' | 'both'): number => seen.filter((s) => s.run === run && s.by === by).length
  return say`${count('log')} in the log, ${count('hand')} in the car, ${count('both')} by both`
}
