import { Box, Stack, Typography } from '@mui/material'
import {
  type DayEvent,
  type DrillKind,
  type DrillResult,
  defaultSizes,
  drillKinds,
  drillResults,
  layExercise,
  type Pad,
  type PadExercise,
  type Surface,
} from '@ochote/core'
import dayjs from 'dayjs'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { say } from '../../language/say.ts'
import { drillWords, resultWords, sentencesOf, targetInWords } from '../../shared/pad/pad-words.ts'
import { surfaceInside } from '../../shared/plan/setting-words.ts'
import { SyncNote } from '../../shared/sync-note.tsx'
import { onTrack } from './on-track.tsx'
import { LastLine, pagesOf, TabletPage, type Tile, Tiles, TurnedPages, useTabletKeys } from './tablet.tsx'
import type { TrackDay } from './use-track-day.ts'

const gripSettings = ['dry', 'damp', 'wet'] as const satisfies readonly Surface[]

type Drill = Extract<DayEvent, { kind: 'drill' }>

/** What this device was at on a day's pad: it is there again after a reload. */
type AtPad = { exerciseId: string | null; studentId: string | null; surface: Surface | null }
const keptAt = (dayId: string): string => `ochote.pad.${dayId}`
const readAt = (dayId: string): AtPad => {
  const nowhere: AtPad = { exerciseId: null, studentId: null, surface: null }
  try {
    return { ...nowhere, ...(JSON.parse(localStorage.getItem(keptAt(dayId)) ?? '{}') as Partial<AtPad>) }
  } catch {
    return nowhere
  }
}
const useAt = (dayId: string): [AtPad, (change: Partial<AtPad>) => void] => {
  const [at, setAt] = useState(() => readAt(dayId))
  const put = (change: Partial<AtPad>): void => {
    const next = { ...at, ...change }
    localStorage.setItem(keptAt(dayId), JSON.stringify(next))
    setAt(next)
  }
  return [at, put]
}

/** The day's exercises; of a pad without any, each kind in its usual size. */
export const exercisesOf = (pad: Pad): PadExercise[] =>
  pad.exercises.length > 0
    ? pad.exercises
    : drillKinds.map((kind) => ({
        id: kind,
        kind,
        name: drillWords[kind],
        x_m: 0,
        y_m: 0,
        turn_deg: 0,
        sizes: defaultSizes,
        surface: 'dry',
        ...(kind === 'skid' ? { axle: 'rear' as const, axleShare: 0.6 } : {}),
      }))

/** Who is on the pad, in the order of the day's plan: those of the session that runs or comes next, then everybody else. */
export const padOrder = (
  slots: readonly { format?: string | undefined; start: string; studentId?: string | undefined }[],
  studentIds: readonly string[],
  now: string,
): { ids: string[]; planned: number } => {
  const onPad = slots.filter((s) => (s.format === 'pad' || s.format === 'wet-pad') && s.studentId !== undefined)
  const start = [...new Set(onPad.map((s) => s.start))].sort()
  // A session is on until the next one begins.
  const current = start.filter((s) => s <= now).at(-1) ?? start[0]
  const first = [...new Set(onPad.filter((s) => s.start === current).flatMap((s) => s.studentId ?? []))].filter((id) =>
    studentIds.includes(id),
  )
  return { ids: [...first, ...studentIds.filter((id) => !first.includes(id))], planned: first.length }
}

/** The same exercise over and over: a result and one sentence for each attempt. */
const PadScreen = ({ track }: { track: TrackDay }) => {
  const navigate = useNavigate()
  const { plan: dayPlan, id: dayId } = track.day
  const [at, setAt] = useAt(dayId)
  /** An attempt that was told and is not drawn yet. */
  const newest = useRef<string | null>(null)
  const turnTo = (change: Partial<AtPad>): void => {
    newest.current = null
    setAt(change)
  }
  const order = padOrder(dayPlan.slots, dayPlan.studentIds, dayjs().format('HH:mm'))
  const students = order.ids.flatMap((id) => track.students.find((s) => s.id === id) ?? [])
  // Those of the session take turns; whoever was chosen by hand stays until the next.
  const turn = order.planned > 1 ? students.slice(0, order.planned) : students
  const student = students.find((s) => s.id === at.studentId) ?? students[0]
  const next = turn[(turn.findIndex((s) => s.id === student?.id) + 1) % Math.max(1, turn.length)]
  const exercises = exercisesOf(dayPlan.pad)
  const chosen = exercises.find((e) => e.id === at.exerciseId) ?? exercises[0]
  const surface = at.surface ?? chosen.surface
  const exercise = { ...chosen, surface }
  const drill = exercise.kind
  const sentences = sentencesOf(exercise)
  const said = new Map(track.events.flatMap((e) => (e.kind === 'drill-said' ? [[e.drillId, e] as const] : [])))
  const drills = track.events.filter((e): e is Drill => e.kind === 'drill')
  const attempts = drills.filter(
    (e) => e.studentId === student?.id && (e.exerciseId ?? e.drill) === (dayPlan.pad.exercises.length > 0 ? exercise.id : drill),
  )
  const last = attempts.at(-1)
  const lastSaid = last && said.get(last.id)
  // Once it is drawn, the last attempt is the one that is seen; with another student or exercise there is none yet.
  useEffect(() => {
    if (newest.current === last?.id) newest.current = null
  }, [last?.id])
  const goOn = (): void => turnTo({ studentId: next?.id ?? null })
  const { target } = layExercise(exercise, track.plan.vehicle)
  const tellResult = (result: DrillResult): void => {
    if (!student) return
    newest.current = track.tell({
      kind: 'drill',
      studentId: student.id,
      drill,
      surface,
      result,
      ...(dayPlan.pad.exercises.length > 0 ? { exerciseId: exercise.id } : {}),
    })
  }
  const tell = (sentence: string): void => {
    // A sentence may come before its attempt is drawn.
    const drillId = newest.current ?? last?.id
    if (drillId && student) track.tell({ kind: 'drill-said', studentId: student.id, drillId, sentence })
  }
  const undo = (): void => {
    if (last) track.tell({ kind: 'undo', undoes: lastSaid?.id ?? last.id })
  }
  useTabletKeys((key) => {
    const number = Number(key)
    if (number >= 1 && number <= 3) tellResult(drillResults[drill][number - 1])
    else if (number >= 4 && number <= 6) tell(sentences[number - 4])
    else if (key === 'n') goOn()
    else if (key === 'u') undo()
    else return false
    return true
  })
  if (!student) return <Typography sx={{ p: 5 }}>{say`There are no students in this day yet. Add them in the Day stage.`}</Typography>
  const attemptTiles: Tile[] = [
    ...drillResults[drill].map(
      (result, i): Tile => ({ id: result, number: i + 1, words: resultWords[result], onTap: () => tellResult(result) }),
    ),
    ...sentences.map(
      (sentence, i): Tile => ({
        id: sentence,
        number: i + 4,
        words: sentence,
        tone: lastSaid?.sentence === sentence ? 'chosen' : 'quiet',
        onTap: () => tell(sentence),
      }),
    ),
  ]
  const settingTiles: Tile[] = [
    { id: 'next', words: say`Next: ${next?.name ?? ''}`, under: say`seats changed`, onTap: goOn },
    ...gripSettings.map(
      (s): Tile => ({
        id: s,
        words: say`Grip: ${surfaceInside(s)}`,
        tone: s === surface ? 'chosen' : 'quiet',
        onTap: () => setAt({ surface: s }),
      }),
    ),
    { id: 'leave', words: say`Leave this screen`, tone: 'quiet', onTap: () => navigate('/run') },
  ]
  const exercisePages = pagesOf(exercises).map((some, k) => ({
    name: k === 0 ? say`Exercise` : say`Exercise ${k + 1}`,
    label: say`Which exercise`,
    body: (
      <Tiles
        tiles={some.map(
          (e): Tile => ({
            id: e.id,
            words: e.name,
            under: targetInWords(e, layExercise(e, track.plan.vehicle).target),
            tone: e.id === exercise.id ? 'chosen' : 'quiet',
            onTap: () => turnTo({ exerciseId: e.id, surface: null }),
          }),
        )}
      />
    ),
  }))
  const whoPages = pagesOf(students).map((some, k) => ({
    name: k === 0 ? say`Who` : say`Who ${k + 1}`,
    label: order.planned > 0 ? say`Who drives; first those whom the day has here now` : say`Who drives`,
    body: (
      <Tiles
        tiles={some.map(
          (s): Tile => ({
            id: s.id,
            words: s.name,
            under: say`${drills.filter((d) => d.studentId === s.id).length} attempts today`,
            tone: s.id === student.id ? 'chosen' : 'quiet',
            onTap: () => turnTo({ studentId: s.id }),
          }),
        )}
      />
    ),
  }))
  return (
    <TabletPage label={say`Pad drill`}>
      <Stack direction="row" spacing={5} useFlexGap sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography component="h1" sx={{ fontSize: 'size.lead', fontWeight: 700, fontStretch: '84%' }}>
          {exercise.name}
        </Typography>
        <Typography sx={{ fontSize: 'size.text' }}>{student.name}</Typography>
        <Typography sx={{ fontSize: 'size.note' }}>{say`then ${next?.name ?? ''}`}</Typography>
        <Box sx={{ flex: 1 }} />
        <SyncNote />
      </Stack>
      <Box
        aria-label={say`Target`}
        role="status"
        sx={{ fontSize: 'size.text', px: 4, py: 2, borderLeft: 'call', borderColor: 'text.primary', backgroundColor: 'var(--sheet)' }}
      >
        <Box sx={{ fontWeight: 660 }}>{targetInWords(exercise, target)}</Box>
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
          { name: say`Next, grip`, label: say`Who is next, on what`, body: <Tiles tiles={settingTiles} /> },
          ...whoPages,
          ...exercisePages,
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
