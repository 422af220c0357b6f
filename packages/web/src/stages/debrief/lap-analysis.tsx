import { Box, Button, Stack, Typography } from '@mui/material'
import { type Debrief, type Run, traceFromWire } from '@ochote/contract'
import { cornerOf, distanceAhead, type Plan, placeAt } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useCallback, useMemo, useState } from 'react'
import { traceQuery } from '../../data/api/queries.ts'
import type { useRunEvents } from '../../data/events/use-run-events.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { useLapClock } from '../../shared/drive/lap-clock.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { BrakeShapes } from './brake-shapes.tsx'
import { FindingsList } from './findings-list.tsx'
import { LapsTable } from './laps-table.tsx'
import { Notes } from './notes.tsx'
import { PassesOfCorner } from './passes-of-corner.tsx'
import { PhaseDifferences } from './phase-differences.tsx'
import { CarsLegend, type Match, PlaybackBar, TwoCars, useClockCursor } from './playback.tsx'
import { type Panel, panels, TraceChart } from './trace-chart.tsx'
import { type ChartLap, chartLap } from './trace-columns.ts'
import { type ComparedWith, useComparison } from './use-comparison.ts'
import { useTraces } from './use-traces.ts'
import { VideoPanel } from './video-panel.tsx'

type Events = Pick<ReturnType<typeof useRunEvents>, 'byInstructor' | 'notes' | 'observations' | 'tell'>

/** A corner is looked at with so much road before and after it (m). */
const AROUND_M = 110
const twoColumns = { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1.35fr) minmax(330px, 1fr)' }
const usualPanels: readonly Panel[] = ['speed', 'difference', 'pedals']
const panelWords: Record<Panel, string> = {
  speed: 'Speed',
  difference: 'Time',
  pedals: 'Pedals',
  wheel: 'Steering',
  offset: 'Road position',
  grip: 'Grip',
  gear: 'Gear',
}

/** A choice as the value of a list. */
const keyOf = (comparedWith: ComparedWith): string => JSON.stringify(comparedWith)

/** As deep as wanted: laps, one of them beside another in charts, on band and ground, played back; corners one by one; notes. */
export const LapAnalysis = ({
  run,
  plan,
  debrief,
  events,
  pictureAt,
}: {
  run: Run
  plan: Plan
  debrief: Debrief
  events: Events
  /** Where a kept still is found, for whoever only reads; without it notes can be written. */
  pictureAt?: (pictureId: string) => string
}) => {
  const [lap, setLap] = useState(debrief.laps[0]?.lap ?? 1)
  const [comparedWith, setComparedWith] = useState<ComparedWith>({ kind: 'plan' })
  const [shown, setShown] = useState(usualPanels)
  const [near, setNear] = useState(false)
  const [everyLap, setEveryLap] = useState(false)
  const [match, setMatch] = useState<Match>('place')
  const { cornerId } = useLapSelection()
  const trace = useQuery(traceQuery(run.id, lap))
  const driven = useMemo(() => (trace.data ? chartLap(`lap ${lap}`, traceFromWire(trace.data), plan) : null), [trace.data, lap, plan])
  const { options, reference, error } = useComparison(run, plan, debrief, lap, comparedWith, events.byInstructor)
  const more = useOtherLaps(run, plan, debrief, lap, everyLap)
  const clock = useLapClock(driven?.lapTime_s ?? 0)
  useClockCursor(clock, plan, driven)
  const corner = cornerOf(plan.corners, cornerId)
  const range = useMemo(
    () =>
      near && corner
        ? { from_m: Math.max(0, corner.start_m - AROUND_M), to_m: Math.min(plan.circuit.length_m, corner.end_m + AROUND_M) }
        : null,
    [near, corner, plan],
  )
  const notes = useMemo(
    () => [
      ...debrief.findings
        .filter((f) => f.root && f.lap === lap)
        .map((f) => ({ station_m: f.station_m, label: `${f.cornerId} ${f.code}`, tone: 'own' as const })),
      ...events.notes
        .filter((n) => n.lap === null || n.lap === lap)
        .map((n) => ({ station_m: n.station_m, to_m: n.to_m, label: n.text, tone: 'own' as const })),
    ],
    [debrief.findings, events.notes, lap],
  )
  const layers = useMemo(() => ({ marks: plan.marks, notes, ...(driven ? { otherOffset_m: driven.offset_m } : {}) }), [plan, notes, driven])
  const arrows = useMemo(
    () => events.notes.flatMap((n) => (n.to_m !== null && (n.lap === null || n.lap === lap) ? [{ ...n, to_m: n.to_m }] : [])),
    [events.notes, lap],
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
  return (
    <Box component="section" aria-label="In depth">
      {pictureAt && events.notes.length > 0 && <Notes plan={plan} events={events} lap={lap} pictureAt={pictureAt} />}
      <LapsTable
        debrief={debrief}
        lap={lap}
        onLap={(next) => {
          setLap(next)
          if (comparedWith.kind === 'lap' && comparedWith.lap === next) setComparedWith({ kind: 'plan' })
        }}
        byInstructor={events.byInstructor}
        {...(pictureAt ? {} : { onDriver: (of, driver) => void events.tell({ kind: 'lap-driver', lap: of, driver }) })}
      />
      <ProblemNote error={error} />
      <Stack
        direction="row"
        spacing={0.75}
        useFlexGap
        role="group"
        aria-label="Charts"
        sx={{ flexWrap: 'wrap', mt: 1.5, mb: 1, alignItems: 'flex-end' }}
      >
        <Box sx={{ mr: 1.5 }}>
          <PickField
            label={`Compare lap ${lap} with`}
            width={300}
            value={keyOf(comparedWith)}
            onPick={(key) => setComparedWith(options.find((o) => keyOf(o.comparedWith) === key)?.comparedWith ?? { kind: 'plan' })}
            options={options.map((o) => [keyOf(o.comparedWith), o.words])}
          />
        </Box>
        {panels.map((panel) => (
          <Toggle
            key={panel}
            on={shown.includes(panel)}
            onToggle={() => {
              const next = panels.filter((p) => (p === panel ? !shown.includes(p) : shown.includes(p)))
              if (next.length > 0) setShown(next)
            }}
          >
            {panelWords[panel]}
          </Toggle>
        ))}
        <Toggle on={everyLap} onToggle={() => setEveryLap(!everyLap)}>
          All laps
        </Toggle>
        <Toggle on={near && corner !== undefined} disabled={!corner} onToggle={() => setNear(!near)}>
          {corner ? `${corner.name} only` : 'Choose a corner to zoom to it'}
        </Toggle>
      </Stack>
      <LapBand plan={plan} height={150} compact layers={layers} />
      <PlaybackBar clock={clock} match={match} onMatch={setMatch} name={reference?.name ?? 'the other'} />
      {driven && (
        <VideoPanel
          plan={plan}
          debrief={debrief}
          lap={lap}
          driven={driven}
          clock={clock}
          {...(pictureAt
            ? {}
            : {
                onNote: ({ station_m, text, pictureId }) => void events.tell({ kind: 'note', station_m, to_m: null, lap, text, pictureId }),
              })}
        />
      )}
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
      <Box sx={{ display: 'grid', gridTemplateColumns: twoColumns, gap: 2 }}>
        <Box>
          <GroundView plan={plan} height={340} zoomToCorner={near} overlay={overlay} {...(near ? {} : { layers })} />
          {driven && reference && <CarsLegend lap={driven.name} reference={reference.name} />}
        </Box>
        {driven && reference && <PhaseDifferences plan={plan} lap={driven} reference={reference} />}
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: twoColumns, gap: 2, mt: 2 }}>
        <Box>
          {corner ? (
            <>
              <PassesOfCorner plan={plan} debrief={debrief} cornerId={corner.id} />
              {reference && <BrakeShapes plan={plan} debrief={debrief} cornerId={corner.id} lap={lap} reference={reference} />}
            </>
          ) : (
            <Typography color="text.secondary">Choose a corner: its marks lap by lap and the shape of its brakes stand here.</Typography>
          )}
        </Box>
        <Box>
          <FindingsOfLaps plan={plan} debrief={debrief} events={events} lap={lap} />
          {!pictureAt && <Notes plan={plan} events={events} lap={lap} />}
        </Box>
      </Box>
    </Box>
  )
}

const Toggle = ({
  on,
  onToggle,
  disabled = false,
  children,
}: {
  on: boolean
  onToggle: () => void
  disabled?: boolean
  children: React.ReactNode
}) => (
  <Button size="small" variant={on ? 'contained' : 'outlined'} aria-pressed={on} disabled={disabled} onClick={onToggle}>
    {children}
  </Button>
)

/** The other laps of a log as columns, once somebody wants to see them. */
const useOtherLaps = (run: Run, plan: Plan, debrief: Debrief, lap: number, wanted: boolean): readonly ChartLap[] => {
  const laps = useMemo(() => debrief.laps.map((l) => l.lap).filter((one) => wanted && one !== lap), [debrief.laps, lap, wanted])
  const traces = useTraces(run.id, laps)
  return useMemo(() => [...traces].map(([one, trace]) => chartLap(`lap ${one}`, trace, plan)), [traces, plan])
}

const FindingsOfLaps = ({ plan, debrief, events, lap }: { plan: Plan; debrief: Debrief; events: Events; lap: number }) => {
  const [all, setAll] = useState(true)
  return (
    <>
      <Stack direction="row" spacing={1} sx={{ mb: 1 }}>
        <Toggle on={all} onToggle={() => setAll(true)}>
          Findings of all laps
        </Toggle>
        <Toggle on={!all} onToggle={() => setAll(false)}>{`Of lap ${lap} only`}</Toggle>
      </Stack>
      <Box role="region" aria-label="Findings, scrolls" tabIndex={0} sx={{ maxHeight: 360, overflow: 'auto' }}>
        <FindingsList
          plan={plan}
          findings={debrief.findings.filter((f) => all || f.lap === lap)}
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
