import { Alert, Box, Button, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import { api, type Backup, type BackupReason, type TableChange, type TrailLine } from '@ochote/contract'
import { useInfiniteQuery, useMutation, useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import {
  accountsQuery,
  backupsQuery,
  daysQuery,
  queryClient,
  serverHealthQuery,
  sessionQuery,
  studentsQuery,
} from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { columns } from '../../look/columns.ts'
import { AskFirst } from '../../shared/ask-first.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { RowTable } from '../../shared/row-table.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { callInWords } from './trail-words.ts'

/** Backups of the school, the state of its server, and who saw and changed what. For leads. */
export const SafePage = () => {
  const session = useQuery(sessionQuery)
  const isLead = session.data?.account?.role === 'lead'
  return (
    <Stack spacing={5}>
      <StageHead stage="School" />
      {isLead ? (
        <>
          <ServerHealth />
          <Backups />
          <Trail />
        </>
      ) : (
        session.data && <Typography>{say`The lead keeps the school’s data safe: backups, and who saw and changed what.`}</Typography>
      )}
    </Stack>
  )
}

const megabytes = (bytes: number): string => (bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${(bytes / 1e6).toFixed(1)} MB`)
const moment = (at: string): string => dayjs(at).format('D MMM YYYY HH:mm')

const ServerHealth = () => {
  const health = useQuery(serverHealthQuery)
  if (!health.data) return health.error ? <ProblemNote error={health.error} /> : <Reading what={say`Asking the server …`} />
  const { storage, database, backup, broken, version } = health.data
  const facts = [
    say`version ${version}`,
    say`database ${megabytes(database.size_bytes)}`,
    storage.free_bytes === null ? null : say`${megabytes(storage.free_bytes)} free on the disk`,
    backup ? say`last good backup ${moment(backup.at)}` : null,
  ]
  return (
    <Stack component="section" aria-label={say`State of the server`} spacing={2}>
      <Typography role="status">{facts.filter(Boolean).join(' · ')}</Typography>
      {!backup && (
        <Alert severity="warning" icon={false}>
          {say`There is no backup yet. Make one below; from then on they are made by themselves.`}
        </Alert>
      )}
      {broken.length > 0 && (
        <Alert severity="error" icon={false}>
          {say`${broken.length} stored entries cannot be read; a backup may hold them whole: ${broken.map((row) => `${row.table} ${row.id}`).join(', ')}`}
        </Alert>
      )}
    </Stack>
  )
}

const reasonWords: Readonly<Record<BackupReason, string>> = {
  hourly: say`every hour of a day`,
  nightly: say`every night`,
  'by-hand': say`by hand`,
  'before-upgrade': say`before an upgrade`,
  'before-restore': say`before a restore`,
}

const Backups = () => {
  const backups = useQuery(backupsQuery)
  const [looked, setLooked] = useState<string | null>(null)
  const make = useMutation({
    mutationFn: () => call(api.makeBackup),
    onSuccess: () =>
      Promise.all([
        queryClient.invalidateQueries({ queryKey: backupsQuery.queryKey }),
        queryClient.invalidateQueries({ queryKey: serverHealthQuery.queryKey }),
      ]),
  })
  return (
    <Stack component="section" aria-label={say`Backups`} spacing={3}>
      <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="head" component="h2">
          {say`Backups`}
        </Typography>
        <Button variant="outlined" disabled={make.isPending} onClick={() => make.mutate()}>
          {make.isPending ? say`Making and checking it …` : say`Make one now`}
        </Button>
      </Stack>
      <Typography variant="text">
        {say`They are made every hour while a day runs and every night, with pictures, logs and positions, and read whole after they were written. Sessions are in none. They lie on the server’s own disk: copy them elsewhere now and then.`}
      </Typography>
      <ProblemNote error={backups.error ?? make.error} />
      {backups.isLoading && <Reading what={say`Reading the list …`} />}
      {backups.data && backups.data.length > 0 && (
        <RowTable aria-label={say`Backups`} maxHeight="40dvh">
          <TableHead>
            <TableRow>
              <TableCell>{say`Made`}</TableCell>
              <TableCell>{say`Why`}</TableCell>
              <TableCell align="right">{say`Size`}</TableCell>
              <TableCell component="td" />
            </TableRow>
          </TableHead>
          <TableBody>
            {backups.data.map((backup) => (
              <TableRow key={backup.name} hover selected={looked === backup.name}>
                <TableCell className="figures">{moment(backup.at)}</TableCell>
                <TableCell>{`${reasonWords[backup.reason]}${backup.checked ? '' : say`, not checked`}`}</TableCell>
                <TableCell align="right" className="figures">
                  {megabytes(backup.size_bytes)}
                </TableCell>
                <TableCell>
                  <Button size="small" variant="outlined" onClick={() => setLooked(looked === backup.name ? null : backup.name)}>
                    {say`What it would change`}
                  </Button>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </RowTable>
      )}
      {looked && <Restore key={looked} backup={backups.data?.find((one) => one.name === looked)} />}
    </Stack>
  )
}

/** Names of tables that people know by other words. */
const tableWords: Readonly<Record<string, string>> = {
  accounts: say`accounts`,
  cars: say`cars`,
  circuits: say`circuits`,
  day_events: say`entries of days`,
  days: say`days`,
  findings: say`findings`,
  laps: say`laps`,
  logs: say`logs`,
  pictures: say`pictures`,
  questions: say`questions`,
  run_events: say`entries of runs`,
  runs: say`runs`,
  school_settings: say`settings of the school`,
  sheet_links: say`links to sheets`,
  student_events: say`decisions about students`,
  student_links: say`links of students`,
  students: say`students`,
  vehicles: say`vehicles`,
  venues: say`venues`,
}

const changeInWords = ({ table, back, gone, other }: TableChange): string =>
  `${tableWords[table] ?? table}: ${[
    back > 0 ? say`${back} come back` : '',
    gone > 0 ? say`${gone} go` : '',
    other > 0 ? say`${other} become as they were` : '',
  ]
    .filter(Boolean)
    .join(', ')}`

/** What a backup would change, and the button that restores it. */
const Restore = ({ backup }: { backup: Backup | undefined }) => {
  const name = backup?.name ?? ''
  const dry = useQuery({
    queryKey: ['backups', name, 'compared'],
    queryFn: () => call(api.compareBackup, { params: { name } }),
    enabled: backup !== undefined,
    staleTime: 0,
    gcTime: 0,
  })
  const restore = useMutation({
    mutationFn: () => call(api.restoreBackup, { params: { name } }),
    onSuccess: () => queryClient.invalidateQueries(),
  })
  const changes = dry.data?.tables.filter((t) => t.back + t.gone + t.other > 0) ?? []
  if (!backup) return null
  return (
    <Stack component="section" aria-label={say`Restore the backup of ${moment(backup.at)}`} spacing={2}>
      <Typography variant="head" component="h3">
        {say`Restore the backup of ${moment(backup.at)}`}
      </Typography>
      {dry.isFetching && <Typography role="status">{say`Comparing it with the school as it is …`}</Typography>}
      {dry.data && !dry.isFetching && (
        <>
          <Typography role="status">{changes.length === 0 ? say`It would change nothing.` : say`It would change this:`}</Typography>
          <Box component="ul" sx={{ m: 0, pl: 5 }}>
            {changes.map((change) => (
              <li key={change.table}>{changeInWords(change)}</li>
            ))}
          </Box>
          <AskFirst
            label={say`Restore it`}
            variant="outlined"
            question={say`The school becomes what it was then, for everybody and at once. As it is now it becomes a backup first.`}
            yes={say`Restore`}
            disabled={changes.length === 0}
            pending={restore.isPending}
            onYes={() => restore.mutate()}
          />
        </>
      )}
      {restore.isSuccess && <Typography role="status">{say`Restored. The school is as it was on ${moment(backup.at)}.`}</Typography>}
      <ProblemNote error={dry.error ?? restore.error} />
    </Stack>
  )
}

const whatWords: Readonly<Record<TrailLine['what'], string>> = {
  seen: say`saw`,
  changed: say`changed`,
  exported: say`took out`,
  erased: say`erased`,
  'signed-in': say`signed in`,
  'sign-in-failed': say`wrong sign-in`,
}

/** Names of what lines are about, where they are known here; else kind and id. */
const useNames = (): ((about: string | null) => string) => {
  const students = useQuery(studentsQuery)
  const accounts = useQuery(accountsQuery)
  const days = useQuery(daysQuery)
  return (about) => {
    if (about === null) return ''
    const [kind, id] = [about.slice(0, about.indexOf(':')), about.slice(about.indexOf(':') + 1)]
    if (kind === 'student') return students.data?.find((s) => s.id === id)?.name ?? about
    if (kind === 'account') return accounts.data?.find((a) => a.id === id)?.name ?? about
    const day = kind === 'day' ? days.data?.find((d) => d.id === id) : undefined
    return day ? `${day.date} ${day.title}` : about
  }
}

const Trail = () => {
  const trail = useInfiniteQuery({
    queryKey: ['trail'],
    queryFn: ({ pageParam }) => call(api.trail, { query: { before: pageParam } }),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (page) => page.next ?? undefined,
  })
  const nameOf = useNames()
  const lines = trail.data?.pages.flatMap((page) => page.lines) ?? []
  const first = trail.data?.pages[0]
  return (
    <Stack component="section" aria-label={say`Who did what`} spacing={2}>
      <Typography variant="head" component="h2">
        {say`Who did what`}
      </Typography>
      <Typography variant="text">
        {say`Records that were looked at, what was changed, taken out and erased. Lines are only added, and each is tied to the one before.`}
      </Typography>
      <ProblemNote error={trail.error} />
      {trail.isLoading && <Reading what={say`Reading it …`} />}
      {first && !first.whole && (
        <Alert severity="error" icon={false} role="alert">
          {say`Line ${first.brokenAt} was changed or taken out after it was written: somebody had their hands on the database itself.`}
        </Alert>
      )}
      {first?.whole && <Typography role="status">{say`Every line is as it was written.`}</Typography>}
      {lines.length > 0 && (
        <RowTable aria-label={say`Who did what`} maxHeight="50dvh">
          <TableHead>
            <TableRow>
              <TableCell>{say`When`}</TableCell>
              <TableCell>{say`Who`}</TableCell>
              <TableCell>{say`What`}</TableCell>
              <TableCell>{say`About`}</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {lines.map((line) => (
              <TableRow key={line.seq}>
                <TableCell className="figures">{moment(line.at)}</TableCell>
                <TableCell>{line.by ?? say`nobody known`}</TableCell>
                <TableCell>{`${whatWords[line.what]}: ${callInWords(line.call)}`}</TableCell>
                <TableCell sx={{ overflowWrap: 'anywhere' }}>{nameOf(line.about)}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </RowTable>
      )}
      {trail.hasNextPage && (
        <Box sx={columns('max-content')}>
          <Button size="small" variant="outlined" disabled={trail.isFetchingNextPage} onClick={() => void trail.fetchNextPage()}>
            {say`Earlier ones`}
          </Button>
        </Box>
      )}
    </Stack>
  )
}
