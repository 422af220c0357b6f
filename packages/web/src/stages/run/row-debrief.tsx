import { Box, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import { cornerName, countedLaps, type MistakeCode, turnsTaken } from '@ochote/core'
import { useQueries } from '@tanstack/react-query'
import { Link, useSearchParams } from 'react-router'
import { debriefQuery } from '../../data/api/queries.ts'
import { useRunEvents } from '../../data/events/use-run-events.ts'
import { inside, say } from '../../language/say.ts'
import { correctionFor, mistakeName } from '../../shared/language/staff-words.ts'
import { RowTable } from '../../shared/row-table.tsx'
import { onTrack } from './on-track.tsx'
import { callName, type TrackDay, type TrackRun } from './use-track-day.ts'

/** A mistake at a corner: who of a row made it, and how often in all. */
export type RowMistake = { cornerId: string; code: MistakeCode; who: string[]; times: number }

/** What a row got wrong, what most of them did first: touches and findings of laps that count, one for each pass. */
export const rowMistakes = (
  drives: readonly { name: string; seen: readonly { cornerId: string; code: MistakeCode; lap: number }[] }[],
): RowMistake[] => {
  const found = new Map<string, RowMistake & { passes: Set<string> }>()
  for (const { name, seen } of drives)
    for (const { cornerId, code, lap } of seen) {
      const key = `${cornerId} ${code}`
      const one = found.get(key) ?? { cornerId, code, who: [], times: 0, passes: new Set<string>() }
      found.set(key, one)
      if (!one.who.includes(name)) one.who.push(name)
      one.passes.add(`${name} ${lap}`)
      one.times = one.passes.size
    }
  return [...found.values()].map(({ passes: _, ...one }) => one).sort((a, b) => b.who.length - a.who.length || b.times - a.times)
}

const SHOWN = 8

const RowDebriefScreen = ({ track }: { track: TrackDay }) => {
  const [search] = useSearchParams()
  const ids = (search.get('runs') ?? '').split(',').filter(Boolean)
  const row = ids.flatMap((id) => track.all.filter((r) => r.run.id === id))
  // A log is made once its run has ended; until then there is none to ask for.
  const debriefs = useQueries({ queries: row.map(({ run }) => ({ ...debriefQuery(run.id), enabled: run.hasLog })) })
  const rows = track.events.filter((e) => e.kind === 'row').filter((e) => e.runIds.every((id) => ids.includes(id)))
  const laps = row[0]?.state.programme?.coached ?? 0
  const turns = turnsTaken(rows, laps)
  const drives = row.map((r, k) => ({
    name: callName(r.run),
    seen: [
      ...r.state.observations.map(({ cornerId, code, lap }) => ({ cornerId, code, lap })),
      ...(debriefs[k]?.data?.findings
        .filter((f) => f.root)
        .map(({ cornerId, code, lap }) => ({ cornerId, code: code as MistakeCode, lap })) ?? []),
    ],
  }))
  const mistakes = rowMistakes(drives)
  const logs = debriefs.filter((d) => d.data).length
  return (
    <Stack component="main" spacing={4} sx={{ p: 5, maxWidth: 1000 }}>
      <Typography variant="title">{say`Debrief of the row`}</Typography>
      {row.length === 0 && <Typography>{say`These runs are not on this day.`}</Typography>}
      <RowTable aria-label={say`Turns as they were`}>
        <TableHead>
          <TableRow>
            {[say`Student`, say`Laps behind the leader`, say`Touches`, ''].map((name) => (
              <TableCell key={name}>{name}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {row.map((r) => (
            <Member key={r.run.id} member={r} laps={turns.find((t) => t.runId === r.run.id)?.laps ?? 0} />
          ))}
        </TableBody>
      </RowTable>
      <Box component="section" aria-label={say`What most got wrong`}>
        <Typography variant="head" component="h2">
          {say`What most got wrong`}
        </Typography>
        <Typography color="text.secondary">
          {say`From touches${logs > 0 ? say` and ${logs} of ${row.length} logs` : ''}. One correction for one person is heard by all.`}
        </Typography>
        {mistakes.length === 0 && <Typography>{say`Nothing was logged in this row.`}</Typography>}
        <Box component="ol" sx={{ m: 0, pl: 5 }}>
          {mistakes.slice(0, SHOWN).map(({ cornerId, code, who, times }) => (
            <li key={`${cornerId} ${code}`}>
              <b>{say`${mistakeName(code)} at ${cornerName(track.plan.corners, cornerId)}`}</b>
              {say`: ${who.join(', ')}, ${times} ${times === 1 ? say`time` : say`times`}. `}
              {who.length > row.length / 2 && row.length > 2 ? say`Most of them: look at the cone and the call first. ` : ''}
              {correctionFor(code)}
            </li>
          ))}
        </Box>
      </Box>
      <Link to="/run" style={{ color: 'inherit' }}>
        {say`Back to the runs`}
      </Link>
    </Stack>
  )
}

const Member = ({ member: { run, state }, laps }: { member: TrackRun; laps: number }) => {
  const { all } = useRunEvents(run.id)
  const { counts } = countedLaps(all)
  return (
    <TableRow>
      <TableCell sx={{ fontWeight: 640 }}>{run.studentName}</TableCell>
      <TableCell className="figures">{laps}</TableCell>
      <TableCell>
        {state.observations.filter(counts).length === 0
          ? '–'
          : state.observations
              .filter(counts)
              .slice(-3)
              .map((o) => inside(mistakeName(o.code)))
              .join(', ')}
      </TableCell>
      <TableCell>
        <Link to={`/debrief/${run.id}`} style={{ color: 'inherit' }}>
          {say`Debrief of ${callName(run)}`}
        </Link>
      </TableCell>
    </TableRow>
  )
}

/** What a row of students drove and got wrong, once it has ended. */
export const RowDebrief = onTrack(RowDebriefScreen)
