import { Box, Stack, Typography } from '@mui/material'
import {
  type DayEvent,
  type DrillKind,
  type DrillResult,
  defaultSizes,
  drillKinds,
  drillResults,
  drillTarget,
  type Surface,
  surfaces,
} from '@ochote/core'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { surfaceInside } from '../../shared/plan/setting-words.ts'
import { SyncNote } from '../../shared/sync-note.tsx'
import { onTrack } from './on-track.tsx'
import { LastLine, TabletPage, type Tile, Tiles, TurnedPages, useTabletKeys } from './tablet.tsx'
import type { TrackDay } from './use-track-day.ts'

const drillWords: Record<DrillKind, string> = {
  'braking-box': say`Braking box`,
  slalom: 'Slalom',
  circle: say`Circle`,
  'figure-of-eight': say`Figure of eight`,
  'lane-change': say`Lane change`,
}
const resultWords: Record<DrillResult, string> = {
  'in-box': say`In the box`,
  short: say`Short of it`,
  over: say`Past it`,
  clean: say`Clean`,
  cone: say`Hit a cone`,
  'off-line': say`Lost the rhythm`,
  'in-band': say`On target speed`,
  slow: say`Below target speed`,
  'pushed-wide': say`Pushed wide`,
  slid: say`Slid`,
}
/** The one sentence that goes with an attempt. */
const sentences: Record<DrillKind, readonly [string, string, string]> = {
  'braking-box': [
    say`Firm first third, then hold it to the stop`,
    say`Brake at the cone, not before it`,
    say`Eyes to the far end of the box`,
  ],
  slalom: [say`Look one cone further`, say`Same steering each way, no faster`, say`Steady throttle between them`],
  circle: [say`Look across the circle`, say`Squeeze until it just begins to push`, say`One steering input, then hold`],
  'figure-of-eight': [say`Slow before the crossing`, say`Look for the second circle early`, say`Unwind, then squeeze`],
  'lane-change': [say`Off the brake, then steer`, say`Look into the gap`, say`Straighten before you brake again`],
}
/** Share of the grip that an exercise is to use. */
const SHARE = 0.75
const gripSettings = ['dry', 'damp', 'wet'] as const satisfies readonly Surface[]

type Drill = Extract<DayEvent, { kind: 'drill' }>

/** The same exercise over and over: a result and one sentence for each attempt. */
const PadScreen = ({ track }: { track: TrackDay }) => {
  const navigate = useNavigate()
  const students = track.students.filter((s) => track.day.plan.studentIds.includes(s.id))
  const [at, setAt] = useState(0)
  const [drill, setDrill] = useState<DrillKind>('braking-box')
  const [surface, setSurface] = useState<(typeof gripSettings)[number]>('dry')
  const student = students[at % Math.max(1, students.length)]
  const said = new Map(track.events.flatMap((e) => (e.kind === 'drill-said' ? [[e.drillId, e] as const] : [])))
  const drills = track.events.filter((e): e is Drill => e.kind === 'drill')
  const attempts = drills.filter((e) => e.studentId === student?.id && e.drill === drill)
  const last = attempts.at(-1)
  const lastSaid = last && said.get(last.id)
  const target = drillTarget(drill, track.plan.vehicle.muY, surfaces[surface] * SHARE)
  const tellResult = (result: DrillResult): void => {
    if (student) track.tell({ kind: 'drill', studentId: student.id, drill, surface, result })
  }
  const tell = (sentence: string): void => {
    if (last && student) track.tell({ kind: 'drill-said', studentId: student.id, drillId: last.id, sentence })
  }
  const undo = (): void => {
    if (last) track.tell({ kind: 'undo', undoes: lastSaid?.id ?? last.id })
  }
  useTabletKeys((key) => {
    const number = Number(key)
    if (number >= 1 && number <= 3) tellResult(drillResults[drill][number - 1])
    else if (number >= 4 && number <= 6) tell(sentences[drill][number - 4])
    else if (key === 'n') setAt((n) => n + 1)
    else if (key === 'u') undo()
    else return false
    return true
  })
  if (!student) return <Typography sx={{ p: 5 }}>{say`There are no students in this day yet. Add them in the Day stage.`}</Typography>
  const attemptTiles: Tile[] = [
    ...drillResults[drill].map(
      (result, i): Tile => ({ id: result, number: i + 1, words: resultWords[result], onTap: () => tellResult(result) }),
    ),
    ...sentences[drill].map(
      (sentence, i): Tile => ({
        id: sentence,
        number: i + 4,
        words: sentence,
        tone: lastSaid?.sentence === sentence ? 'chosen' : 'quiet',
        onTap: () => tell(sentence),
      }),
    ),
  ]
  const nextDrill = drillKinds[(drillKinds.indexOf(drill) + 1) % drillKinds.length]
  const settingTiles: Tile[] = [
    { id: 'next', words: say`Next student`, under: students[(at + 1) % students.length]?.name, onTap: () => setAt(at + 1) },
    { id: 'drill', words: drillWords[nextDrill], under: say`next exercise`, tone: 'quiet', onTap: () => setDrill(nextDrill) },
    { id: 'leave', words: say`Leave this screen`, tone: 'quiet', onTap: () => navigate('/run') },
    ...gripSettings.map(
      (s): Tile => ({ id: s, words: say`Grip: ${surfaceInside(s)}`, tone: s === surface ? 'chosen' : 'quiet', onTap: () => setSurface(s) }),
    ),
  ]
  return (
    <TabletPage label={say`Pad drill`}>
      <Stack direction="row" spacing={5} useFlexGap sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography component="h1" sx={{ fontSize: 'size.lead', fontWeight: 700, fontStretch: '84%' }}>
          {drillWords[drill]}
        </Typography>
        <Typography sx={{ fontSize: 'size.text' }}>{student.name}</Typography>
        <Typography sx={{ fontSize: 'size.note' }}>{say`then ${students[(at + 1) % students.length]?.name}`}</Typography>
        <Box sx={{ flex: 1 }} />
        <SyncNote />
      </Stack>
      <Box
        aria-label={say`Target`}
        role="status"
        sx={{ fontSize: 'size.text', px: 4, py: 2, borderLeft: 'call', borderColor: 'text.primary', backgroundColor: 'var(--sheet)' }}
      >
        <Box sx={{ fontWeight: 660 }}>{targetInWords(drill, target)}</Box>
        <Box
          sx={{ fontSize: 'size.note' }}
        >{say`Grip set to ${surfaceInside(surface)}, three quarters of it used · an estimate: begin slower`}</Box>
      </Box>
      <AttemptRow attempts={attempts} drill={drill} />
      <TurnedPages
        pages={[
          {
            name: say`Attempt`,
            label: last && !lastSaid ? say`One sentence for it` : say`Attempt ${attempts.length + 1}`,
            body: <Tiles tiles={attemptTiles} />,
          },
          { name: say`Who, grip`, label: say`Who drives, on what`, body: <Tiles tiles={settingTiles} /> },
        ]}
      />
      <LastLine
        words={
          last
            ? say`${resultWords[last.result]}${lastSaid ? ` · ${lastSaid.sentence}` : ''} · ${attempts.length} attempts by ${student.name}`
            : say`No attempt yet`
        }
        onUndo={last ? undo : null}
      />
    </TabletPage>
  )
}

const targetInWords = (drill: DrillKind, target: ReturnType<typeof drillTarget>): string => {
  const speed = speedInWords(target.speed_mps)
  if (drill === 'braking-box') return say`From ${speed}: stop within ${metres(target.stop_m ?? 0)}`
  if (target.time_s !== null) return say`${speed}, ${target.time_s.toFixed(1)} s per circle (radius ${metres(defaultSizes.radius_m)})`
  return say`${speed} (cones ${metres(defaultSizes.spacing_m)} apart)`
}

/** Attempts in a row, the newest right: the aim is filled, the rest open. */
const AttemptRow = ({ attempts, drill }: { attempts: readonly Drill[]; drill: DrillKind }) => {
  const [aim] = drillResults[drill]
  const hits = attempts.filter((a) => a.result === aim).length
  return (
    <Stack direction="row" spacing={3} sx={{ alignItems: 'center', minHeight: 40 }}>
      <svg
        width={Math.max(34, 34 * Math.min(attempts.length, 24))}
        height="34"
        role="img"
        aria-label={say`${hits} of ${attempts.length} on target`}
      >
        {attempts.slice(-24).map((a, i) => (
          <g key={a.id} transform={`translate(${34 * i + 17} 17)`} stroke="var(--ink)" strokeWidth="2.5">
            <title>{resultWords[a.result]}</title>
            {a.result === aim ? (
              <rect x="-11" y="-11" width="22" height="22" fill="var(--ink)" />
            ) : a.result === drillResults[drill][1] ? (
              <path d="M-11 0 H11" fill="none" />
            ) : (
              <path d="M-11 11 L11 -11 M-11 -11 L11 11" fill="none" />
            )}
          </g>
        ))}
      </svg>
      <Typography sx={{ fontSize: 'size.note' }}>
        {attempts.length === 0 ? say`No attempt yet` : say`${hits} of ${attempts.length} on target`}
      </Typography>
    </Stack>
  )
}

/** Pad drill: attempts in a row, one after another. */
export const PadDrill = onTrack(PadScreen)
