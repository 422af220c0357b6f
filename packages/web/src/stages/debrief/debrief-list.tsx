import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import type { DebriefLine, Run } from '@ochote/contract'
import { formatLapTime, nameKey } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { carsQuery, circuitQuery, debriefLinesQuery, runsQuery, vehiclesQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { inside, say } from '../../language/say.ts'
import { restOfWindow } from '../../look/columns.ts'
import { JudgingAnew } from '../../shared/judging-anew.tsx'
import { mistakeName } from '../../shared/language/staff-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { RowLink } from '../../shared/row-link.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { VirtualRows } from '../../shared/virtual-rows.tsx'
import { GroupPicture } from './group-picture.tsx'

/** Widths of a row's cells: student, car, time, laps, quickest lap, finding, looked at, sheet. */
const rowColumns = {
  xs: 'minmax(0, 2fr) minmax(0, 3fr)',
  sm: 'minmax(0, 3fr) minmax(0, 3fr) 3.5rem 3.5rem 5rem minmax(0, 4fr) minmax(0, 1.6fr) minmax(0, 1.8fr)',
}

/** One drive with what is known of it. */
type Drive = { run: Run; line: DebriefLine | undefined; car: string; finding: string }

const filters = {
  all: [say`all drives`, () => true],
  open: [say`not looked at yet`, ({ line }: Drive) => line !== undefined && !line.lookedAt],
  sheet: [say`sheet not given`, ({ run, line }: Drive) => line !== undefined && !line.sheetGivenAt && !run.practice],
  'sent-in': [say`sent in from afar`, ({ run }: Drive) => run.submitted],
  'no-log': [say`without a log`, ({ run }: Drive) => !run.hasLog && run.endedAt !== null],
  practice: ['practice', ({ run }: Drive) => run.practice],
} as const satisfies Record<string, readonly [string, (drive: Drive) => boolean]>
type Filter = keyof typeof filters

const orders = {
  time: [say`newest first`, (a: Drive, b: Drive) => b.run.startedAt.localeCompare(a.run.startedAt)],
  student: [say`by student`, (a: Drive, b: Drive) => a.run.studentName.localeCompare(b.run.studentName)],
  quickest: [
    say`quickest first`,
    (a: Drive, b: Drive) => (a.line?.best_s ?? Number.POSITIVE_INFINITY) - (b.line?.best_s ?? Number.POSITIVE_INFINITY),
  ],
  found: [say`most mistakes first`, (a: Drive, b: Drive) => (b.line?.mostFrequent?.times ?? 0) - (a.line?.mostFrequent?.times ?? 0)],
} as const satisfies Record<string, readonly [string, (a: Drive, b: Drive) => number]>
type Order = keyof typeof orders

const keysOf = <K extends string>(of: Record<K, unknown>): K[] => Object.keys(of) as K[]

/** All drives with their lines, cars and findings. */
const useDrives = (): { drives: readonly Drive[] | undefined; error: Error | null; pending: boolean } => {
  const { day } = useDay()
  const runs = useQuery(runsQuery({}))
  const lines = useQuery({ ...debriefLinesQuery, refetchOnMount: 'always' })
  const vehicles = useQuery(vehiclesQuery)
  const cars = useQuery(carsQuery)
  const circuitId = day?.plan.settings.circuitId ?? ''
  const circuit = useQuery({ ...circuitQuery(circuitId), enabled: day !== undefined })
  const drives = useMemo(() => {
    const lineOf = new Map(lines.data?.map((line) => [line.runId, line]))
    return runs.data?.map((run): Drive => {
      const line = lineOf.get(run.id)
      const vehicle = vehicles.data?.find((v) => v.id === run.settings.vehicleId)?.name ?? ''
      const number = cars.data?.find((c) => c.id === run.carId)?.number
      // Names of corners are known where the run was driven on the day’s circuit.
      const known = circuit.data && run.settings.circuitId === circuitId ? circuit.data.notes.cornerNames : null
      return { run, line, car: number ? `${number}, ${vehicle}` : vehicle, finding: findingInWords(run, line, known) }
    })
  }, [runs.data, lines.data, vehicles.data, cars.data, circuit.data, circuitId])
  return { drives, error: runs.error ?? lines.error, pending: runs.isPending }
}

/** The most frequent mistake and where, or why there is none. */
export const findingInWords = (run: Run, line: DebriefLine | undefined, names: Record<string, string> | null): string => {
  if (!line) return run.hasLog ? '' : run.endedAt ? say`no log yet` : say`on track now`
  if (!line.mostFrequent) return say`nothing found`
  const { cornerId, code, times } = line.mostFrequent
  const what = mistakeName(code)
  const where = names ? `${names[cornerId] ?? cornerId}: ` : ''
  return `${where}${where ? inside(what) : what}${times > 1 ? say`, ${times} times` : ''}`
}

/** A heading between drives, or one of them. */
type Row = { heading: string } | { drive: Drive }

export const rowsOf = (drives: readonly Drive[], dayId: string | undefined, order: Order): Row[] => {
  const sorted = drives.toSorted(orders[order][1])
  const ofDay = sorted.filter(({ run }) => run.dayId === dayId)
  const others = sorted.filter(({ run }) => run.dayId !== dayId)
  const dates = [...new Set(others.map(({ run }) => run.date))].sort().reverse()
  return [
    ...(ofDay.length > 0 ? [{ heading: say`This day` }, ...ofDay.map((drive) => ({ drive }))] : []),
    ...dates.flatMap((date) => [
      { heading: dayjs(date).format(say`dddd D MMMM YYYY`) },
      ...others.filter(({ run }) => run.date === date).map((drive) => ({ drive })),
    ]),
  ]
}

/** Which drive to look back on: the day’s own first; sorted, filtered, searched. */
export const DebriefList = () => {
  const { day } = useDay()
  const { schoolSettings, save, error } = useSchoolSettings()
  const { drives, error: readError, pending } = useDrives()
  const [search, setSearch] = useState('')
  const [filter, setFilter] = useState<Filter>('all')
  const [order, setOrder] = useState<Order>('time')
  const shown = useMemo(
    () =>
      (drives ?? []).filter(
        (d) => filters[filter][1](d) && nameKey(`${d.run.studentName} ${d.car} ${d.finding}`).includes(nameKey(search)),
      ),
    [drives, filter, search],
  )
  const rows = useMemo(() => rowsOf(shown, day?.id, order), [shown, day?.id, order])
  const hasToday = drives?.some(({ run }) => run.dayId === day?.id) === true
  return (
    <Stack spacing={4}>
      <StageHead stage="Debrief" facts={drives && say`${shown.length} of ${drives.length} drives`}>
        {day && hasToday && (
          <>
            <Button size="small" variant="outlined" component={Link} to="/debrief/class">
              {say`With the class`}
            </Button>
            <Button size="small" variant="outlined" component={Link} to={`/debrief/report/${day.id}`}>
              {say`Report of the day`}
            </Button>
          </>
        )}
      </StageHead>
      <ProblemNote error={readError ?? error} />
      <JudgingAnew />
      {hasToday && day && <GroupPicture dayId={day.id} circuitId={day.plan.settings.circuitId} />}
      {pending && <Reading what={say`Reading the runs …`} />}
      {drives?.length === 0 && (
        <Typography>{say`No drive yet. Start a run from the Day stage; its log is analysed when it ends.`}</Typography>
      )}
      {drives && drives.length > 0 && !hasToday && <Typography>{say`No run of this day yet. Start one from the Day stage.`}</Typography>}
      {drives && drives.length > 0 && (
        <Box>
          <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'flex-end', flexWrap: 'wrap', mb: 2 }}>
            <TextField
              label={say`Search student, car, mistake`}
              value={search}
              onChange={(e) => setSearch(e.target.value)}
              sx={{ flex: '0 1 240px' }}
            />
            <PickField
              label={say`Show`}
              value={filter}
              options={keysOf(filters).map((f) => [f, filters[f][0]] as const)}
              onPick={setFilter}
              width={180}
            />
            <PickField
              label={say`Order`}
              value={order}
              options={keysOf(orders).map((o) => [o, orders[o][0]] as const)}
              onPick={setOrder}
              width={180}
            />
          </Stack>
          <VirtualRows
            label={say`Drives`}
            rows={rows}
            keyOf={(row) => ('heading' in row ? row.heading : row.drive.run.id)}
            rowHeight={32}
            height={restOfWindow(hasToday ? 330 : 260, 380)}
            head={
              <Box
                sx={{
                  display: { xs: 'none', sm: 'grid' },
                  gridTemplateColumns: rowColumns.sm,
                  gap: 4,
                  py: 1,
                  fontSize: 'size.note',
                  color: 'text.secondary',
                }}
              >
                {[say`Student`, say`Car`, say`Time`, say`Laps`, say`Quickest`, say`Most frequent`, say`Looked at`, say`Sheet`].map(
                  (name) => (
                    <span key={name}>{name}</span>
                  ),
                )}
              </Box>
            }
            row={(row) =>
              'heading' in row ? (
                <Typography variant="head" component="h2" sx={{ pt: 3, pb: 1 }}>
                  {row.heading}
                </Typography>
              ) : (
                <DriveRow {...row.drive} />
              )
            }
          />
          {shown.length === 0 && <Typography>{say`None of the drives is like that.`}</Typography>}
        </Box>
      )}
      <PickField
        label={say`Students read what was found in logs that they send in`}
        value={schoolSettings.sentInFindings}
        options={[
          ['once-looked-at', say`once an instructor has looked at them`],
          ['at-once', say`at once`],
        ]}
        onPick={(sentInFindings) => save({ sentInFindings })}
      />
    </Stack>
  )
}

const DriveRow = ({ run, line, car, finding }: Drive) => (
  <RowLink to={`/debrief/${run.id}`} columns={rowColumns}>
    <Box component="span" sx={{ fontWeight: 600 }}>
      {run.studentName}
    </Box>
    <span>{car}</span>
    <span className="figures">{dayjs(run.startedAt).format('HH:mm')}</span>
    <span className="figures">{line ? `${line.laps} ${line.laps === 1 ? say`lap` : say`laps`}` : ''}</span>
    <span className="figures">{line?.best_s ? formatLapTime(line.best_s) : ''}</span>
    <span>{finding}</span>
    <Box component="span" sx={{ color: line && !line.lookedAt ? 'text.secondary' : 'inherit' }}>
      {line && (line.lookedAt ? say`looked at` : say`not yet`)}
    </Box>
    <Box component="span" sx={{ color: line && !line.sheetGivenAt ? 'text.secondary' : 'inherit' }}>
      {run.practice
        ? say`practice`
        : run.submitted
          ? say`sent in by the student`
          : line && (line.sheetGivenAt ? say`sheet given` : say`sheet not given`)}
    </Box>
  </RowLink>
)
