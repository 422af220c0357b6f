import { Alert, Box, Button, Stack, Typography } from '@mui/material'
import {
  type ConeColour,
  checkPad,
  type DrillKind,
  defaultSizes,
  drillKinds,
  type LaidExercise,
  layExercise,
  type Pad,
  type PadExercise,
  type PadProblem,
  type PadShortage,
  padConesNeeded,
  padCsv,
  padGeoJson,
  padShortages,
  placeOnPad,
} from '@ochote/core'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { v7 as uuid } from 'uuid'
import { useDay } from '../../data/day/day-context.tsx'
import { usePlanHistory } from '../../data/day/use-plan-history.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { columns } from '../../look/columns.ts'
import { download } from '../../shared/download.ts'
import { staffWords } from '../../shared/language/staff-words.ts'
import { drillWords } from '../../shared/pad/pad-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { type ExerciseChange, PadBoard } from './pad-board.tsx'
import { ExerciseDetails, PadSize } from './pad-details.tsx'

/** The exercises of the day on the pad, to scale: where each lies, what it asks, whether it is safe, and how it is laid. */
export const PadPage = () => {
  const { day, settings, error } = useDay()
  const { plan, error: planError } = usePlan(settings)
  const { change, undo, redo } = usePlanHistory()
  const { schoolSettings } = useSchoolSettings()
  const [chosen, setChosen] = useState<string | null>(null)
  const pad: Pad | undefined = day?.plan.pad
  const vehicle = plan?.vehicle
  const laid = useMemo(() => (pad && vehicle ? pad.exercises.map((e) => layExercise(e, vehicle)) : []), [pad, vehicle])
  if (!day || !pad || !vehicle)
    return (
      <Stack spacing={4}>
        <StageHead stage="Day" />
        {(error ?? planError) ? <ProblemNote error={error ?? planError} /> : <Reading what={say`Reading the day …`} />}
      </Stack>
    )
  const put = (next: Partial<Pad>): void => change((now) => ({ ...now, pad: { ...now.pad, ...next } }))
  // From what the day has by then: keys come faster than pages are drawn.
  const putAll = (next: (exercises: readonly PadExercise[]) => PadExercise[]): void =>
    change((now) => ({ ...now, pad: { ...now.pad, exercises: next(now.pad.exercises) } }))
  const putExercise = (id: string, next: ExerciseChange): void =>
    putAll((all) => all.map((e) => (e.id === id ? { ...e, ...(typeof next === 'function' ? next(e) : next) } : e)))
  const add = (kind: DrillKind): void => {
    const same = pad.exercises.filter((e) => e.kind === kind).length
    const plain: PadExercise = {
      id: uuid(),
      kind,
      name: same === 0 ? drillWords[kind] : `${drillWords[kind]} ${same + 1}`,
      x_m: 0,
      y_m: 0,
      turn_deg: 0,
      sizes: defaultSizes,
      surface: 'dry',
      ...(kind === 'skid' ? { axle: 'rear', axleShare: 0.6 } : {}),
    }
    const exercise = { ...plain, ...placeOnPad(pad, laid, (place) => layExercise({ ...plain, ...place }, vehicle)) }
    putAll((all) => [...all, exercise])
    setChosen(exercise.id)
  }
  const problems = checkPad(pad, laid)
  const shortages = padShortages(laid, schoolSettings.stock)
  const opened = laid.find((l) => l.exercise.id === chosen) ?? laid[0]
  return (
    <Stack spacing={3}>
      <StageHead stage="Day" facts={say`Pad of ${metres(pad.length_m)} by ${metres(pad.width_m)}, ${vehicle.name}`}>
        <UndoRedo undo={undo} redo={redo} />
        <Button size="small" variant="outlined" component={Link} to="/day/pad-sheets" disabled={laid.length === 0}>
          {say`Print`}
        </Button>
        <Button
          size="small"
          variant="outlined"
          disabled={laid.length === 0}
          onClick={() => download('pad-cones.csv', padCsv(laid), 'text/csv')}
        >
          {say`Cones as CSV`}
        </Button>
        <Button
          size="small"
          variant="outlined"
          disabled={laid.length === 0 || !pad.place}
          title={pad.place ? '' : say`Say first where the pad is`}
          onClick={() => {
            const text = padGeoJson(pad, laid)
            if (text) download('pad-cones.geojson', text, 'application/geo+json')
          }}
        >
          {say`Cones as GeoJSON`}
        </Button>
      </StageHead>
      <Box sx={columns('minmax(0, 1.6fr) minmax(0, 1fr)')}>
        <Stack spacing={2}>
          <PadBoard
            pad={pad}
            laid={laid}
            problems={problems}
            chosen={opened?.exercise.id ?? null}
            onChoose={setChosen}
            onMove={putExercise}
          />
          <Wrong problems={problems} shortages={shortages} laid={laid} />
          <Typography variant="text" color="text.secondary">
            {say`Drag an exercise, or choose it and move it with the arrow keys; R turns it. The grey wall is the room that somebody needs who is a second late or slides.`}
          </Typography>
          <Caution />
        </Stack>
        <Stack spacing={3}>
          <PickField
            label={say`Add`}
            value={'none' as DrillKind | 'none'}
            options={[['none', say`choose an exercise`] as const, ...drillKinds.map((k) => [k, drillWords[k]] as const)]}
            onPick={(kind) => kind !== 'none' && add(kind)}
            width={240}
          />
          {opened ? (
            <ExerciseDetails
              key={opened.exercise.id}
              laid={opened}
              onChange={(next) => putExercise(opened.exercise.id, next)}
              onRemove={() => putAll((all) => all.filter((e) => e.id !== opened.exercise.id))}
            />
          ) : (
            <Typography>{say`Nothing on the pad yet. Add an exercise; its cones, speeds and room come from the vehicle.`}</Typography>
          )}
          <Needed laid={laid} />
          <PadSize key={`${pad.length_m} ${pad.width_m}`} pad={pad} onChange={put} />
        </Stack>
      </Box>
    </Stack>
  )
}

/** What is not safe or not there, each with by how much. */
const Wrong = ({
  problems,
  shortages,
  laid,
}: {
  problems: readonly PadProblem[]
  shortages: readonly PadShortage[]
  laid: readonly LaidExercise[]
}) => {
  const nameOf = (id: string): string => laid.find((l) => l.exercise.id === id)?.exercise.name ?? id
  if (problems.length + shortages.length === 0) return null
  return (
    <Alert severity="warning" icon={false} role="note" aria-label={say`What is not right on the pad`}>
      {problems.map((p) => (
        <div key={`${p.problem} ${p.id} ${'otherId' in p ? p.otherId : ''}`}>
          {p.problem === 'edge'
            ? say`${nameOf(p.id)} is ${metres(p.short_m)} too near the edge of the pad: move it in, or make it smaller or slower.`
            : say`${nameOf(p.id)} and ${nameOf(p.otherId)} are ${metres(p.short_m)} too near each other: move them apart, or do them one after the other.`}
        </div>
      ))}
      {shortages.map(({ colour, needed, there }) => (
        <div key={colour}>{say`${needed} ${staffWords.colours[colour]} cones are needed, ${there} are in the shed.`}</div>
      ))}
    </Alert>
  )
}

const Needed = ({ laid }: { laid: readonly LaidExercise[] }) => {
  const needed = Object.entries(padConesNeeded(laid)) as [ConeColour, number][]
  if (needed.length === 0) return null
  return <Typography>{say`Cones: ${needed.map(([colour, count]) => `${count} ${staffWords.colours[colour]}`).join(', ')}`}</Typography>
}
