import { Box, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { type Debrief, type HeldAgainstWish, type Run, traceFromWire } from '@ochote/contract'
import { type Corner, cornerOf, distanceAhead, formatLapTime, type Plan, placeAt, withCountedLaps } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { type ComponentProps, useCallback, useMemo, useState } from 'react'
import { traceQuery } from '../../data/api/queries.ts'
import type { useRunEvents } from '../../data/events/use-run-events.ts'
import { say } from '../../language/say.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { useLapClock } from '../../shared/drive/lap-clock.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { WordHelp } from '../../shared/word-help.tsx'
import { BrakeShapes } from './brake-shapes.tsx'
import { ChartChoices, Toggle } from './chart-choices.tsx'
import { FindingsList } from './findings-list.tsx'
import { LapsFromSeat } from './laps-from-seat.tsx'
import { LapsTable } from './laps-table.tsx'
import { Notes } from './notes.tsx'
import { PassesOfCorner } from './passes-of-corner.tsx'
import { PhaseDifferences } from './phase-differences.tsx'
import { CarsLegend, type Match, PlaybackBar, TwoCars, useClockCursor } from './playback.tsx'
import { TraceChart } from './trace-chart.tsx'
import { type ChartLap, chartLap } from './trace-columns.ts'
import type { Panel } from './trace-option.ts'
import { type ComparedWith, useComparison } from './use-comparison.ts'
import { useJudgeAgain } from './use-judge-again.ts'
import { useTraces } from './use-traces.ts'
import { VideoPanel } from './video-panel.tsx'

type Events = Pick<ReturnType<typeof useRunEvents>, 'all' | 'byInstructor' | 'notes' | 'observations' | 'tell'>

/** Road shown before and after a corner that is looked at alone (m). */
const AROUND_M = 110
const twoColumns = { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1.35fr) minmax(330px, 1fr)' }
const usualPanels: readonly Panel[] = ['speed', 'difference', 'pedals']

/** Drawings on the road: mistakes of the lap, and notes pinned to it. */
const useRoadNotes = (debrief: Debrief, notes: Events['notes'], lap: number) => {
  const ofLap = useMemo(() => notes.filter((n) => n.lap === null || n.lap === lap), [notes, lap])
  const pins = useMemo(
    () => [
      ...debrief.findings
        .filter((f) => f.root && f.lap === lap)
        .map((f) => ({ station_m: f.station_m, label: `${f.cornerId} ${f.code}`, tone: 'own' as const })),
      ...ofLap.map((n) => ({ station_m: n.station_m, to_m: n.to_m, label: n.text, tone: 'own' as const })),
    ],
    [debrief.findings, ofLap, lap],
  )
  const arrows = useMemo(() => ofLap.flatMap((n) => (n.to_m === null ? [] : [{ ...n, to_m: n.to_m }])), [ofLap])
  return { pins, arrows }
}

/** The lap that is looked at, the one beside it, and which of them the clock follows. */
const useLapPair = (run: Run, plan: Plan, debrief: Debrief, counted: Debrief, byInstructor: Events['byInstructor']) => {
  const [lap, setLap] = useState((counted.laps[0] ?? debrief.laps[0])?.lap ?? 1)
  const [comparedWith, setComparedWith] = useState<ComparedWith>(() => comparedFirst(debrief, lap))
  // A log that ends within its first lap has none to ask for.
  const trace = useQuery({ ...traceQuery(run.id, lap), enabled: debrief.laps.some((l) => l.lap === lap) })
  const driven = useMemo(() => (trace.data ? chartLap(say`lap ${lap}`, traceFromWire(trace.data), plan) : null), [trace.data, lap, plan])
  const { options, reference, error } = useComparison(run, plan, { debrief, counted }, lap, comparedWith, byInstructor)
  const clock = useLapClock(driven?.lapTime_s ?? 0)
  useClockCursor(clock, plan, driven)
  const chooseLap = (next: number): void => {
    setLap(next)
    if (comparedWith.kind === 'lap' && comparedWith.lap === next) setComparedWith({ kind: 'plan' })
  }
  return { lap, chooseLap, comparedWith, setComparedWith, driven, options, reference, error, clock }
}

/** What a lap is compared with at first: what the log was held against. */
const comparedFirst = ({ review }: Debrief, lap: number): ComparedWith => {
  const told = review.reference?.told
  if (told?.kind === 'lap' && told.lap !== lap) return { kind: 'lap', lap: told.lap }
  return told?.kind === 'drive' && told.runId ? { kind: 'run', runId: told.runId, lap: told.lap } : { kind: 'plan' }
}

type Props = {
  run: Run
  plan: Plan
  debrief: Debrief
  events: Events
  /** Address of a saved still, for readers; without it notes can be written. */
  pictureAt?: (pictureId: string) => string
}

/** As deep as wanted: laps, one of them beside another in charts, on band and ground, played back; corners one by one; notes. */
export const LapAnalysis = ({ run, plan, debrief, events, pictureAt }: Props) => {
  const counted = useMemo(() => withCountedLaps(debrief, events.all), [debrief, events.all])
  const { lap, chooseLap, comparedWith, setComparedWith, driven, options, reference, error, clock } = useLapPair(
    run,
    plan,
    debrief,
    counted,
    events.byInstructor,
  )
  const again = useJudgeAgain(run)
  const wish = wishOf(comparedWith, run.heldAgainst)
  const [shown, setShown] = useState(usualPanels)
  const [near, setNear] = useState(false)
  const [everyLap, setEveryLap] = useState(false)
  const [match, setMatch] = useState<Match>('place')
  const [view, setView] = useState<'above' | 'seat'>('above')
  const { cornerId } = useLapSelection()
  const corner = cornerOf(plan.corners, cornerId)
  const more = useOtherLaps(run, plan, debrief, lap, everyLap)
  const range = useMemo(() => (near && corner ? roadAround(plan, corner) : null), [near, corner, plan])
  const { pins, arrows } = useRoadNotes(counted, events.notes, lap)
  const layers = useMemo(
    () => ({ marks: plan.marks, notes: pins, ...(driven ? { otherOffset_m: driven.offset_m } : {}) }),
    [plan, pins, driven],
  )
  const overlay = useCallback(
    (pixel: number) => (
      <>
        {arrows.map((n) => (
          <RoadArrow key={n.id} plan={plan} from_m={n.station_m} to_m={n.to_m} pixel={pixel} />
        ))}
        {driven && reference && (
          <TwoCars clock={clock} plan={plan} lap={driven} reference={reference} match={match} wheels={near} pixel={pixel} />
        )}
      </>
    ),
    [arrows, plan, driven, reference, clock, match, near],
  )
  // A corner that was chosen is what is looked at: it stands above the whole lap.
  const cornerBlock = (
    <Box sx={{ display: 'grid', gridTemplateColumns: twoColumns, gap: 4, mt: 4 }}>
      <CornerInDepth plan={plan} debrief={counted} corner={corner} lap={lap} reference={reference} />
      <Box>
        <FindingsOfLaps plan={plan} debrief={counted} events={events} lap={lap} />
        {!pictureAt && <Notes plan={plan} events={events} lap={lap} />}
      </Box>
    </Box>
  )
  const fromAbove = <GroundView plan={plan} height={340} zoomToCorner={near} overlay={overlay} {...(near ? {} : { layers })} />
  if (debrief.laps.length === 0)
    return (
      <Box component="section" aria-label={say`In depth`}>
        <Typography>{say`No lap of this log is complete: there is nothing to hold against the plan.`}</Typography>
        {!pictureAt && <Notes plan={plan} events={events} lap={lap} />}
      </Box>
    )
  return (
    <Box component="section" aria-label={say`In depth`}>
      <LapChoice laps={debrief.laps} lap={lap} onLap={chooseLap} />
      <ProblemNote error={error ?? again.error} />
      <ChartChoices
        lap={lap}
        options={options}
        comparedWith={comparedWith}
        onCompare={setComparedWith}
        {...(!pictureAt && wish && !again.isPending ? { onJudge: () => again.mutate({ heldAgainst: wish }) } : {})}
        shown={shown}
        onShow={setShown}
        everyLap={everyLap}
        onEveryLap={setEveryLap}
        corner={corner}
        near={near}
        onNear={setNear}
      />
      <LapBand plan={plan} height={150} compact layers={layers} />
      <PlaybackBar clock={clock} match={match} onMatch={setMatch} name={reference?.name ?? say`the other`} />
      {corner && cornerBlock}
      {driven && <Video plan={plan} debrief={debrief} lap={lap} driven={driven} clock={clock} tell={pictureAt ? null : events.tell} />}
      {driven && reference && (
        <TraceChart
          station_m={plan.circuit.s_m}
          length_m={plan.circuit.length_m}
          lap={driven}
          reference={reference}
          more={more}
          height={110 + 80 * shown.length}
          shown={shown}
          range={range}
        />
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: twoColumns, gap: 4 }}>
        <Box>
          {driven && reference && (
            <ToggleButtonGroup
              exclusive
              value={view}
              onChange={(_, next: typeof view | null) => next && setView(next)}
              aria-label={say`Both laps`}
              sx={{ mb: 2 }}
            >
              <ToggleButton value="above">{say`From above`}</ToggleButton>
              <ToggleButton value="seat">{say`From the seat`}</ToggleButton>
            </ToggleButtonGroup>
          )}
          {driven && reference && view === 'seat' ? (
            <LapsFromSeat
              plan={plan}
              clock={clock}
              driven={driven}
              reference={reference}
              match={match}
              fallback={fromAbove}
              keep={
                pictureAt ? null : { runId: run.id, lap, onKept: (told) => void events.tell({ kind: 'note', to_m: null, lap, ...told }) }
              }
            />
          ) : (
            fromAbove
          )}
          {driven && reference && <CarsLegend lap={driven.name} reference={reference.name} />}
        </Box>
        {driven && reference && <PhaseDifferences plan={plan} lap={driven} reference={reference} />}
      </Box>
      <LapsTable
        debrief={debrief}
        lap={lap}
        onLap={chooseLap}
        events={events.all}
        {...(pictureAt
          ? {}
          : { tell: (told) => void events.tell(told), onJudgeAgainst: (of) => again.mutate({ heldAgainst: { kind: 'lap', lap: of } }) })}
      />
      {!corner && cornerBlock}
    </Box>
  )
}

/** The laps of the log, one of them chosen. */
const LapChoice = ({ laps, lap, onLap }: { laps: Debrief['laps']; lap: number; onLap: (lap: number) => void }) => (
  <ToggleButtonGroup
    exclusive
    value={lap}
    onChange={(_, next: number | null) => next !== null && onLap(next)}
    aria-label={say`Laps`}
    sx={{ flexWrap: 'wrap', mb: 2 }}
  >
    {laps.map((l) => (
      <ToggleButton key={l.lap} value={l.lap} className="figures">
        {`${l.lap} · ${formatLapTime(l.time_s, 1)}`}
      </ToggleButton>
    ))}
  </ToggleButtonGroup>
)

/** What a whole log can be held against of what a lap is compared with; what it is held against already is no choice. */
const wishOf = (comparedWith: ComparedWith, heldAgainst: HeldAgainstWish): HeldAgainstWish | null =>
  comparedWith.kind === 'bank' || JSON.stringify(comparedWith) === JSON.stringify(heldAgainst) ? null : comparedWith

/** The stretch of road that charts show of a corner. */
const roadAround = ({ circuit }: Plan, { start_m, end_m }: Corner): { from_m: number; to_m: number } => ({
  from_m: Math.max(0, start_m - AROUND_M),
  to_m: Math.min(circuit.length_m, end_m + AROUND_M),
})

type VideoProps = Pick<ComponentProps<typeof VideoPanel>, 'plan' | 'debrief' | 'lap' | 'driven' | 'clock'> & {
  /** Stores notes; null for whoever only reads. */
  tell: Events['tell'] | null
}

const Video = ({ tell, ...props }: VideoProps) => (
  <VideoPanel
    {...props}
    {...(tell && {
      onNote: ({ station_m, text, pictureId }) => void tell({ kind: 'note', station_m, to_m: null, lap: props.lap, text, pictureId }),
    })}
  />
)

type CornerInDepthProps = { plan: Plan; debrief: Debrief; corner: Corner | undefined; lap: number; reference: ChartLap | null }

/** A corner's marks lap by lap and the shape of its brakes. */
const CornerInDepth = ({ plan, debrief, corner, lap, reference }: CornerInDepthProps) =>
  corner ? (
    <Box>
      <PassesOfCorner plan={plan} debrief={debrief} cornerId={corner.id} />
      {reference && <BrakeShapes plan={plan} debrief={debrief} cornerId={corner.id} lap={lap} reference={reference} />}
    </Box>
  ) : (
    <Typography color="text.secondary">{say`Choose a corner to see its marks lap by lap and the shape of its braking.`}</Typography>
  )

/** The other laps of a log as columns, once somebody wants to see them. */
const useOtherLaps = (run: Run, plan: Plan, debrief: Debrief, lap: number, wanted: boolean): readonly ChartLap[] => {
  const laps = useMemo(() => debrief.laps.map((l) => l.lap).filter((other) => wanted && other !== lap), [debrief.laps, lap, wanted])
  const traces = useTraces(run.id, laps)
  return useMemo(() => [...traces].map(([other, trace]) => chartLap(say`lap ${other}`, trace, plan)), [traces, plan])
}

const FindingsOfLaps = ({ plan, debrief, events, lap }: { plan: Plan; debrief: Debrief; events: Events; lap: number }) => {
  const [all, setAll] = useState(true)
  return (
    <>
      <Stack direction="row" spacing={2} sx={{ mb: 2 }}>
        <Toggle on={all} onToggle={() => setAll(true)}>
          {say`Findings of all laps`}
        </Toggle>
        <Toggle on={!all} onToggle={() => setAll(false)}>{say`Of lap ${lap} only`}</Toggle>
        <WordHelp word="root" />
      </Stack>
      <Box role="region" aria-label={say`Findings, scrolls`} tabIndex={0} sx={{ maxHeight: 360, overflow: 'auto' }}>
        <FindingsList
          plan={plan}
          findings={debrief.findings.filter((f) => all || f.lap === lap)}
          passes={debrief.review.passes.filter((p) => all || p.lap === lap)}
          observations={events.observations.filter((o) => all || o.lap === lap)}
        />
      </Box>
    </>
  )
}

/** An arrow along the road from one station to another. */
const RoadArrow = ({ plan, from_m, to_m, pixel }: { plan: Plan; from_m: number; to_m: number; pixel: number }) => {
  const length_m = distanceAhead(from_m, to_m, plan.circuit.length_m)
  const steps = Math.max(2, Math.ceil(length_m / 8))
  const places = Array.from({ length: steps + 1 }, (_, k) => placeAt(plan.circuit, from_m + (k / steps) * length_m, 0))
  const end = places[places.length - 1]
  return (
    <g fill="none" stroke="var(--accent)" strokeWidth={3.5 * pixel} pointerEvents="none">
      <path d={places.map((p, k) => `${k === 0 ? 'M' : 'L'}${p.x_m.toFixed(1)} ${(-p.y_m).toFixed(1)}`).join('')} />
      <g transform={`translate(${end.x_m} ${-end.y_m}) rotate(${(-end.heading_rad * 180) / Math.PI}) scale(${pixel})`}>
        <path d="M-10 -8 L2 0 L-10 8" strokeWidth={3.5} />
      </g>
    </g>
  )
}
