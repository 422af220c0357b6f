import { Box, Button, Stack, Typography } from '@mui/material'
import { type LayingError, type LayingRow, layingError, layingStart, type Plan, signedDistance } from '@ochote/core'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useConeSet } from '../../data/cones/use-cone-set.ts'
import { DayProvider, useDay } from '../../data/day/day-context.tsx'
import { useDayEvents } from '../../data/events/use-day-events.ts'
import { useNumbers, usePlan } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { exactMetres, fineMetres, metres } from '../../language/staff-units.ts'
import { staffWords } from '../../shared/language/staff-words.ts'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'
import { coneNames, coneShapeName } from '../../shared/marks/mark-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { toReference } from './laying-table.tsx'
import { reportsOf } from './reports.ts'
import { TargetView } from './target-view.tsx'
import { type ReceiverFix, useSimulatedReceiver } from './use-receiver.ts'

/** A cone put down further from its place than this is worth a second try (m). */
const GOOD_M = 0.5

const big = { minHeight: 76, fontSize: 'size.text', px: 5 } as const

const Laying = () => {
  const { day, settings } = useDay()
  const { plan, error } = usePlan(settings)
  const set = useConeSet(plan, settings, useNumbers(plan))
  const { events, waiting, tell } = useDayEvents(day?.id ?? '')
  const [skipped, setSkipped] = useState<readonly string[]>([])
  const start_m = useMemo(() => (plan ? layingStart(plan).station_m : 0), [plan])
  const { fix, driveTo } = useSimulatedReceiver(plan, start_m, day?.id ?? '')
  if (!day) return <Nothing words={say`Make a day first: what is laid is kept with it.`} />
  if (!plan || !set) return <ProblemNote error={error} />
  const reports = reportsOf(events)
  const laid = new Set(reports.filter((r) => r.state === 'laid').map((r) => r.coneId))
  const left = set.sheet.filter((r) => !laid.has(r.cone.id) && !skipped.includes(r.cone.id))
  const row = left[0]
  const lastEvent = events.findLast((e) => e.kind === 'cone-report' && e.state === 'laid')
  const lastRow = lastEvent?.kind === 'cone-report' ? set.sheet.find((r) => r.cone.id === lastEvent.coneId) : undefined
  const off = row && fix ? layingError(plan, row.cone, fix.x_m, fix.y_m) : null
  return (
    <Stack component="main" spacing={4} sx={{ p: 5, minHeight: '100vh' }}>
      <Stack direction="row" spacing={5} sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography component="h1" sx={{ fontSize: 'size.lead', fontWeight: 700, fontStretch: '84%' }}>
          {say`Lay cones`}
        </Typography>
        <Typography className="figures" role="status" aria-label={say`Laid so far`} sx={{ fontSize: 'size.text' }}>
          {say`${set.sheet.length - set.sheet.filter((r) => !laid.has(r.cone.id)).length} of ${set.sheet.length} laid`}
        </Typography>
        <Typography sx={{ fontSize: 'size.note', fontWeight: 600, color: waiting > 0 ? 'warning.main' : 'text.secondary' }}>
          {say`Simulated receiver · ${waiting > 0 ? say`${waiting} saved here, not sent yet` : say`all sent`}`}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Button variant="outlined" component={Link} to="/cones">
          {say`Back`}
        </Button>
      </Stack>
      {row ? (
        <>
          <NextCone row={row} />
          <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' }, gap: 5, flex: 1 }}>
            <TargetView plan={plan} cone={row.cone} fix={fix} />
            <Stack spacing={4}>
              <ErrorWords plan={plan} row={row} fix={fix} off={off} />
              <Button
                variant="contained"
                sx={{ ...big, minHeight: 110 }}
                disabled={!off || fix?.moving === true}
                onClick={() =>
                  off && tell({ kind: 'cone-report', coneId: row.cone.id, state: 'laid', error_m: Math.round(off.distance_m * 100) / 100 })
                }
              >
                {say`Put down here`}
              </Button>
              <Stack direction="row" spacing={4}>
                <Button variant="outlined" sx={{ ...big, flex: 1 }} onClick={() => driveTo(row.cone.station_m, row.cone.offset_m)}>
                  {say`Drive to it`}
                </Button>
                <Button variant="outlined" sx={{ ...big, flex: 1 }} onClick={() => setSkipped([...skipped, row.cone.id])}>
                  {say`Leave for later`}
                </Button>
              </Stack>
              <Typography color="text.secondary" sx={{ fontSize: 'size.note' }}>
                {say`“Drive to it” moves the simulated truck; nobody handles this screen while driving.`}
              </Typography>
            </Stack>
          </Box>
        </>
      ) : (
        <Stack spacing={4} sx={{ flex: 1 }}>
          <Typography sx={{ fontSize: 'size.lead' }}>
            {skipped.length > 0
              ? say`${skipped.length} left for later.`
              : say`Every cone of the plan is laid. Drive the lap slowly and look at each.`}
          </Typography>
          {skipped.length > 0 && (
            <Box>
              <Button variant="contained" sx={big} onClick={() => setSkipped([])}>
                {say`Go back to the ones left`}
              </Button>
            </Box>
          )}
        </Stack>
      )}
      <Stack direction="row" spacing={4} sx={{ alignItems: 'center', minHeight: 76 }}>
        <Typography role="status" aria-label={say`Last laid`} className="figures" sx={{ fontSize: 'size.note', flex: 1 }}>
          {lastRow && lastEvent?.kind === 'cone-report'
            ? say`No. ${lastRow.number} laid, ${exactMetres(lastEvent.error_m ?? 0)} off`
            : say`Nothing laid yet`}
        </Typography>
        {lastEvent && (
          <Button variant="outlined" sx={{ ...big, minWidth: 180 }} onClick={() => tell({ kind: 'undo', undoes: lastEvent.id })}>
            {say`Undo`}
          </Button>
        )}
      </Stack>
    </Stack>
  )
}

const NextCone = ({ row }: { row: LayingRow }) => (
  <Stack
    component="section"
    aria-label={say`Next cone`}
    direction="row"
    spacing={5}
    sx={{ alignItems: 'center', borderLeft: 'call', borderColor: 'text.primary', pl: 4, backgroundColor: 'var(--sheet)', py: 2 }}
  >
    <ConeGlyph colour={row.cone.colour} shape={row.cone.shape} size={92} />
    <Box sx={{ flex: 1 }}>
      <Typography
        component="div"
        sx={{ fontSize: { xs: 'size.lead', md: 'size.head' }, fontWeight: 720, fontStretch: '84%', lineHeight: 1.1 }}
      >
        {say`${row.number}  ${staffWords.colours[row.cone.colour]} ${coneShapeName(row.cone.shape)}, ${staffWords.sides[row.cone.roadSide]} side`}
      </Typography>
      <Typography component="div" className="figures" sx={{ fontSize: 'size.text' }}>
        {say`${coneNames[row.cone.kind]}${row.cornerName ? say` at ${row.cornerName}` : ''} · ${metres(row.fromLast_m)} from the last · ${fineMetres(row.beyondEdge_m)} beyond the edge`}
      </Typography>
      <Typography component="div" sx={{ fontSize: 'size.note' }}>
        {toReference(row.reference) || say`No landmark within 100 m: go by distance.`}
      </Typography>
    </Box>
  </Stack>
)

const ErrorWords = ({ plan, row, fix, off }: { plan: Plan; row: LayingRow; fix: ReceiverFix | null; off: LayingError | null }) => {
  const ahead_m = fix ? signedDistance(fix.station_m, row.cone.station_m, plan.circuit.length_m) : 0
  const near = off !== null && off.distance_m < 25
  return (
    <Box role="status" aria-label={say`Distance to the place`} sx={{ minHeight: 120 }}>
      <Typography
        component="div"
        className="figures"
        sx={{
          fontSize: 'size.title',
          fontWeight: 720,
          color: near && off.distance_m > GOOD_M ? 'warning.main' : 'text.primary',
          lineHeight: 1,
        }}
      >
        {off === null ? '…' : near ? say`${exactMetres(off.distance_m)} off` : say`${metres(ahead_m)} to go`}
      </Typography>
      <Typography component="div" className="figures" sx={{ fontSize: 'size.text', mt: 2 }}>
        {near
          ? `${off.along_m < 0 ? say`on` : say`back`} ${exactMetres(Math.abs(off.along_m))}, ${off.across_m < 0 === (row.cone.roadSide === 'left') ? say`left` : say`right`} ${exactMetres(Math.abs(off.across_m))}`
          : say`Drive on along the road.`}
      </Typography>
    </Box>
  )
}

const Nothing = ({ words }: { words: string }) => (
  <Stack spacing={4} sx={{ p: 6 }}>
    <Typography sx={{ fontSize: 'size.text' }}>{words}</Typography>
    <Box>
      <Button variant="contained" component={Link} to="/day">
        {say`Day`}
      </Button>
    </Box>
  </Stack>
)

/** Laying cones with a tablet on the truck. */
export const LayPage = () => (
  <DayProvider>
    <LapSelectionProvider>
      <Laying />
    </LapSelectionProvider>
  </DayProvider>
)
