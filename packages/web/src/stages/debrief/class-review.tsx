import { Box, Button, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { type Day, type Group, traceFromWire } from '@ochote/contract'
import {
  cornersToReview,
  groupPicture,
  groupProposal,
  markOf,
  type Plan,
  type PlanChoice,
  planTimeAt,
  type SeatDrive,
  type Spread,
  settingsOfStudent,
  spreadOf,
  stationBefore,
  wrapStation,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { groupQuery, traceQuery } from '../../data/api/queries.ts'
import { useConeSet } from '../../data/cones/use-cone-set.ts'
import { DayProvider, useDay } from '../../data/day/day-context.tsx'
import { useDayEvents } from '../../data/events/use-day-events.ts'
import { useNumbers, usePlan } from '../../data/plan/use-plan.ts'
import { inside, say, sayWhole } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { figures } from '../../look/theme.tsx'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { DriveView } from '../../shared/drive/drive-view.tsx'
import { useLapClock } from '../../shared/drive/lap-clock.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { mistakeName } from '../../shared/language/staff-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { labelsOf } from '../../shared/seat/seat-labels.ts'
import { SeatView } from '../../shared/seat/seat-view.tsx'
import { cornerFromSeat } from '../../shared/seat/seat-words.ts'
import { useSeenMarks } from '../../shared/seat/use-seen-marks.ts'
import { visibilityOn } from '../../shared/seat/visibilities.ts'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'

/** Seconds before the turn-in at which a corner is looked at. */
const BEFORE_S = 2.2
/** A driven lap begins so long before the turn-in, and a corner takes about as long (s). */
const LEAD_S = 5
const SHOWN = { line: true, marks: true, braking: false } as const

/** Everybody, for a day without groups or for all of them together. */
const ALL = 'all'

/** The class between two runs, on the projector: the corner that most get wrong first, seen from the seat. */
export const ClassReview = () => (
  <DayProvider>
    <Review />
  </DayProvider>
)

const Review = () => {
  const { day } = useDay()
  const group = useQuery({ ...groupQuery(day?.id ?? ''), enabled: day !== undefined })
  if (!day) return <Typography component="h1" sx={{ p: 6 }}>{say`There is no day yet: make one in the Day stage.`}</Typography>
  if (!group.data) return <Reading what={say`Reading what the group did …`} frame="lap" error={group.error} />
  return <OfDay day={day} group={group.data} />
}

/** Those of a group, its settings, and what it got wrong. */
const OfDay = ({ day, group }: { day: Day; group: Group }) => {
  const { groups, studentIds } = day.plan
  const [chosen, choose] = useState(ALL)
  const members = useMemo(
    () => new Set(chosen === ALL ? [...studentIds, ...group.drove] : (groups.find((g) => g.id === chosen)?.studentIds ?? [])),
    [chosen, groups, studentIds, group.drove],
  )
  const drove = group.drove.filter((id) => members.has(id))
  const settings = useMemo(() => {
    const [first] = chosen === ALL ? [] : members
    return first === undefined ? day.plan.settings : settingsOfStudent(first, day.plan)
  }, [chosen, members, day.plan])
  const { plan, error } = usePlan(settings)
  const picture = useMemo(
    () =>
      groupPicture(
        group.seen.filter((s) => members.has(s.studentId)),
        drove.length,
        chosen === ALL ? group.former : [],
      ),
    [group, members, drove.length, chosen],
  )
  if (!plan) return error ? <ProblemNote error={error} /> : <Reading what={say`Computing the lap …`} frame="lap" />
  const order = cornersToReview(picture)
  const corners = order.flatMap((id) => plan.corners.find((c) => c.id === id) ?? [])
  return (
    <Box component="main" sx={{ minHeight: '100vh', px: { xs: 4, sm: 6 }, py: 4 }}>
      {groups.length > 0 && (
        <ToggleButtonGroup
          exclusive
          value={chosen}
          onChange={(_, next: string | null) => next && choose(next)}
          aria-label={say`Which group`}
          sx={{ mb: 3, flexWrap: 'wrap' }}
        >
          <ToggleButton value={ALL}>{say`everybody`}</ToggleButton>
          {groups.map((g) => (
            <ToggleButton key={g.id} value={g.id}>
              {g.name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
      {corners.length === 0 ? (
        <Typography component="h1" sx={{ fontSize: 'size.head' }}>
          {drove.length === 0 ? say`Nobody of them has driven today.` : say`Nothing was seen that went wrong.`}
        </Typography>
      ) : (
        <LapSelectionProvider>
          <Corners key={chosen} plan={plan} settings={settings} corners={corners} {...{ day, group, members, picture, groupId: chosen }} />
        </LapSelectionProvider>
      )}
    </Box>
  )
}

type CornersProps = {
  plan: Plan
  settings: PlanChoice
  corners: Plan['corners']
  day: Day
  group: Group
  members: ReadonlySet<string>
  picture: ReturnType<typeof groupPicture>
  groupId: string
}

const Corners = ({ plan, settings, corners, day, group, members, picture, groupId }: CornersProps) => {
  const navigate = useNavigate()
  const { changePlan } = useDay()
  const [at, go] = useState(0)
  const [driving, setDriving] = useState(false)
  const corner = corners[Math.min(at, corners.length - 1)]
  const { events, tell } = useDayEvents(day.id)
  const counted = events.findLast((e) => e.kind === 'hands' && e.cornerId === corner.id)
  const hands = counted?.kind === 'hands' ? counted.hands : 0
  const passes = group.passes.filter((p) => p.cornerId === corner.id && members.has(p.studentId))
  const off = passes.flatMap((p) => (p.turnIn_m === null ? [] : [p.turnIn_m]))
  const spread = spreadOf(off)
  const worked = (): void =>
    changePlan((now) => ({
      ...now,
      groups: now.groups.map((g) => (groupId === ALL || g.id === groupId ? { ...g, cornerIds: [corner.id] } : g)),
    }))
  const isWorkedOn = day.plan.groups.some((g) => (groupId === ALL || g.id === groupId) && g.cornerIds?.[0] === corner.id)
  const shared = group.runs.find((r) => r.sharedLap !== null && members.has(r.studentId))
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === 'ArrowRight' || event.key === 'PageDown') go((now) => Math.min(corners.length - 1, now + 1))
      else if (event.key === 'ArrowLeft' || event.key === 'PageUp') go((now) => Math.max(0, now - 1))
      else if (event.key === 'l' && shared) setDriving((now) => !now)
      else if (event.key === 'h') tell({ kind: 'hands', cornerId: corner.id, hands: hands + 1 })
      else if (event.key === 'Escape') navigate('/debrief')
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [corners.length, shared, tell, corner.id, hands, navigate])
  const [most, ...others] = picture.filter((t) => t.cornerId === corner.id)
  return (
    <Stack spacing={3}>
      <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography component="h1" sx={{ fontSize: 'size.head', fontWeight: 680, fontStretch: '86%', lineHeight: 1.05 }}>
          {cornerLabel(corner)}
        </Typography>
        <Typography sx={{ fontSize: 'size.lead' }}>{say`${mistakeName(most.code)}: ${most.students} of ${most.of}`}</Typography>
        <Box sx={{ flex: 1 }} />
        <Typography className="figures" sx={{ fontSize: 'size.note', color: 'text.secondary' }}>{`${at + 1}/${corners.length}`}</Typography>
      </Stack>
      <FromSeat plan={plan} settings={settings} cornerId={corner.id} off={off} shared={driving ? shared : undefined} />
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: 'minmax(0, 3fr) minmax(0, 2fr)' }, gap: 5 }}>
        <Stack spacing={2} sx={{ fontSize: 'size.note' }}>
          <Box sx={figures} role="status" aria-label={say`Where the group turned in`}>
            {spreadInWords(spread)}
          </Box>
          <Box>{sayWhole(groupProposal(most.code))}</Box>
          {others.length > 0 && <Box>{say`Also: ${others.map((t) => say`${inside(mistakeName(t.code))}, ${t.students}`).join('; ')}`}</Box>}
        </Stack>
        <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', alignItems: 'flex-start' }}>
          <Button variant="outlined" onClick={() => tell({ kind: 'hands', cornerId: corner.id, hands: hands + 1 })}>
            {say`Hands up: ${hands}`}
          </Button>
          {hands > 0 && (
            <Button size="small" onClick={() => tell({ kind: 'hands', cornerId: corner.id, hands: 0 })}>
              {say`Count again`}
            </Button>
          )}
          {day.plan.groups.length > 0 ? (
            <Button variant={isWorkedOn ? 'outlined' : 'contained'} aria-pressed={isWorkedOn} onClick={worked}>
              {isWorkedOn ? say`Worked on next` : say`Work on it next`}
            </Button>
          ) : (
            <Typography sx={{ fontSize: 'size.note' }}>{say`What is worked on next belongs to a group; this day has none.`}</Typography>
          )}
          <Button variant="outlined" disabled={!shared} aria-pressed={driving} onClick={() => setDriving(!driving)}>
            {shared ? say`A driven lap` : say`No lap to show`}
          </Button>
        </Stack>
      </Box>
      <Typography sx={{ fontSize: 'size.note', color: 'text.secondary' }}>
        {say`Arrow keys: the next corner · H: a hand · L: a driven lap · Escape: back`}
      </Typography>
    </Stack>
  )
}

/** Where a group turned in, in words. */
export const spreadInWords = (spread: Spread | null): string => {
  if (spread === null) return say`Too few logs to say where the group turned in.`
  const [low, middle, high] = [spread.low_m, spread.middle_m, spread.high_m].map(earlyOrLate)
  if (low === high) return say`The group turned in ${low}: ${spread.of} times through.`
  return say`The group turned in from ${low} to ${high}, most around ${middle}: ${spread.of} times through.`
}

const earlyOrLate = (off_m: number): string =>
  Math.abs(off_m) < 0.5 ? say`on the mark` : off_m < 0 ? say`${metres(-off_m)} early` : say`${metres(off_m)} late`

/** The corner before its turn-in, with where the group turned in; or a lap through it as it was driven. */
const FromSeat = ({
  plan,
  settings,
  cornerId,
  off,
  shared,
}: {
  plan: Plan
  settings: PlanChoice
  cornerId: string
  off: readonly number[]
  shared: Group['runs'][number] | undefined
}) => {
  const set = useConeSet(plan, settings, useNumbers(plan))
  const seen = useSeenMarks(plan, set?.cones)
  const labels = useMemo(() => labelsOf(plan, seen), [plan, seen])
  const turnIn_m = markOf(plan.marks, cornerId, 'turn-in')?.station_m ?? plan.corners.find((c) => c.id === cornerId)?.start_m ?? 0
  const key = off.join()
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same numbers are the same spread
  const spread = useMemo(() => off.map((m) => wrapStation(turnIn_m + m, plan.circuit.length_m)), [key, turnIn_m, plan])
  const still = useMemo(() => ({ station_m: stationBefore(plan, turnIn_m, BEFORE_S) }), [plan, turnIn_m])
  const corner = plan.corners.find((c) => c.id === cornerId)
  const says = corner ? cornerFromSeat(plan, corner, seen) : ''
  const common = {
    plan,
    cones: set?.cones ?? [],
    layers: SHOWN,
    visibility: visibilityOn(plan.settings.surface),
    labels,
    height: 'min(46vh, 44vw)',
    spread,
  } as const
  if (shared?.sharedLap != null) return <Driven {...common} runId={shared.runId} lap={shared.sharedLap} from_m={turnIn_m} says={says} />
  return (
    <Box>
      <SeatView
        {...common}
        at={still}
        label={say`The corner from the seat. ${says}`}
        fallback={<GroundView plan={plan} layers={{ marks: plan.marks }} height={360} />}
      />
      {seen.length > 0 && <Typography sx={{ fontSize: 'size.note', mt: 1 }}>{says}</Typography>}
    </Box>
  )
}

type Common = Omit<Parameters<typeof SeatView>[0], 'at' | 'label' | 'fallback'>

/** A lap of somebody who agreed to it, through the corner again and again. */
const Driven = ({ runId, lap, from_m, says, ...common }: Common & { runId: string; lap: number; from_m: number; says: string }) => {
  const trace = useQuery(traceQuery(runId, lap))
  const driven = useMemo(() => trace.data && traceFromWire(trace.data), [trace.data])
  if (!driven) return <Reading what={say`Reading the lap …`} frame="lap" error={trace.error} />
  return <Playing {...common} driven={driven} from_m={from_m} says={says} />
}

const Playing = ({ driven, from_m, says, ...common }: Common & { driven: SeatDrive; from_m: number; says: string }) => {
  const { plan } = common
  const clock = useLapClock(driven.lapTime_s)
  const at = useMemo(() => ({ clock, driven }), [clock, driven])
  const { seek, play } = clock
  // Where the driven lap is as far as the planned one at the turn-in.
  const begin_s = Math.max(0, (planTimeAt(plan, from_m) / plan.profile.lapTime_s) * driven.lapTime_s - LEAD_S)
  useEffect(() => {
    seek(begin_s)
    play(true)
    return () => play(false)
  }, [seek, play, begin_s])
  return (
    <Box>
      <SeatView
        {...common}
        at={at}
        label={say`A lap that was driven, from its seat`}
        fallback={<DriveView plan={plan} clock={clock} cones={common.cones} height={360} label={say`The road ahead, travel up`} />}
      />
      <Stack direction="row" spacing={4} sx={{ mt: 1, alignItems: 'center' }}>
        <Typography sx={{ fontSize: 'size.note', flex: 1 }}>{says}</Typography>
        <Button variant="outlined" onClick={() => clock.seek(begin_s)}>
          {say`Once more`}
        </Button>
      </Stack>
    </Box>
  )
}
