import { Button, Stack, Typography } from '@mui/material'
import type { Debrief, HeldAgainstWish, Run } from '@ochote/contract'
import {
  brakingSchools,
  formatLapTime,
  lineMethods,
  type OwnThresholds,
  paceSteps,
  type Surface,
  settingsOfStudent,
  surfaces,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { dayQuery, vehiclesQuery } from '../../data/api/queries.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say } from '../../language/say.ts'
import { differsText, referenceText } from '../../shared/language/staff-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { brakingWords, lineWords } from '../../shared/plan/line-words.ts'
import { surfaceInside } from '../../shared/plan/setting-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { useJudgeAgain } from './use-judge-again.ts'

/** What makes two plans the same. */
const settled = ({ circuitId, vehicleId, surface, pace, school, method = 'smoothest' }: Run['settings']) => [
  circuitId,
  vehicleId,
  surface,
  pace,
  school,
  method,
]

/** A choice as the value of a list. */
const keyOf = (wish: HeldAgainstWish): string => JSON.stringify(wish)

/**
 * What a log is held against, in one sentence, and the choice of another: the plan in other settings, a lap, or whatever explains
 * the drive best. A log that was judged by thresholds which the school has changed since is judged anew for them.
 */
export const JudgedAgainst = ({ run, debrief }: { run: Run; debrief: Debrief }) => {
  const { schoolSettings } = useSchoolSettings()
  const vehicles = useQuery(vehiclesQuery)
  const day = useQuery(dayQuery(run.dayId))
  const again = useJudgeAgain(run)
  const { vehicleId, surface, pace, school, method } = run.settings
  const paces = [...new Set([...paceSteps, pace])].sort((a, b) => a - b)
  const { heldAgainst } = run
  const planned = heldAgainst.kind === 'plan'
  // What is found takes the place of the run's own settings; those of its day are kept with the day.
  const ofDay = !day.data || run.submitted ? null : settingsOfStudent(run.studentId, day.data.plan, run.slotId)
  const isOfDay = ofDay !== null && planned && JSON.stringify(settled(ofDay)) === JSON.stringify(settled(run.settings))
  const choices: (readonly [string, string])[] = [
    ...(ofDay ? [['day', say`the plan of that day`] as const] : []),
    ...(ofDay && isOfDay ? [] : [[keyOf({ kind: 'plan' }), say`the plan set here`] as const]),
    [keyOf({ kind: 'auto' }), say`what explains it best`],
    [keyOf({ kind: 'best' }), say`the quickest lap`],
    ...debrief.laps.map((l) => [keyOf({ kind: 'lap', lap: l.lap }), say`lap ${l.lap}, ${formatLapTime(l.time_s)}`] as const),
    ...(heldAgainst.kind === 'run' ? [[keyOf(heldAgainst), say`lap ${heldAgainst.lap} of another drive`] as const] : []),
  ]
  /** A plan that is changed by hand is the one to hold against, whatever it was before. */
  const plan = (change: Partial<Run['settings']>): void => again.mutate({ ...change, heldAgainst: { kind: 'plan' } })
  return (
    <Stack component="section" aria-label={say`Held against`} spacing={2}>
      <Stack
        direction="row"
        spacing={3}
        useFlexGap
        role="group"
        aria-label={say`Analysed as`}
        sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}
      >
        <PickField
          label={again.isPending ? say`Analysing again …` : say`Held against`}
          width={210}
          disabled={again.isPending}
          value={isOfDay ? 'day' : keyOf(heldAgainst)}
          options={choices}
          onPick={(key) => (key === 'day' ? plan(ofDay ?? {}) : again.mutate({ heldAgainst: JSON.parse(key) as HeldAgainstWish }))}
        />
        <PickField
          label={say`Vehicle`}
          width={170}
          disabled={again.isPending}
          value={vehicleId}
          options={(vehicles.data ?? []).map((v) => [v.id, v.name] as const)}
          onPick={(id) => again.mutate({ vehicleId: id })}
        />
        <PickField
          label={say`Surface`}
          width={100}
          disabled={again.isPending}
          value={surface}
          options={(Object.keys(surfaces) as Surface[]).map((s) => [s, surfaceInside(s)] as const)}
          onPick={(s) => again.mutate({ surface: s })}
        />
        {(planned || debrief.review.reference?.told.kind === 'plan') && (
          <>
            <PickField
              label={say`Braking style`}
              width={110}
              disabled={again.isPending}
              value={school}
              options={brakingSchools.map((s) => [s, brakingWords[s].name] as const)}
              onPick={(s) => plan({ school: s })}
            />
            <PickField
              label={say`Line`}
              width={120}
              disabled={again.isPending}
              value={method ?? 'smoothest'}
              options={lineMethods.map((m) => [m, lineWords[m].name] as const)}
              onPick={(m) => plan({ method: m })}
            />
            <PickField
              label={say`Pace`}
              width={84}
              disabled={again.isPending}
              value={String(pace)}
              options={paces.map((p) => [String(p), `${Math.round(100 * p)}%`] as const)}
              onPick={(p) => plan({ pace: Number(p) })}
            />
          </>
        )}
        {!alike(debrief.review.thresholds, schoolSettings.thresholds) && (
          <Button
            variant="text"
            disabled={again.isPending}
            onClick={() => again.mutate({})}
            title={say`The school has changed what counts as a mistake since this log was judged`}
            sx={{ lineHeight: 1.15 }}
          >
            {say`Re-analyse with today’s thresholds`}
          </Button>
        )}
      </Stack>
      <ReferenceSentence debrief={debrief} />
      {debrief.review.reference?.instead && (
        <Button
          variant="outlined"
          disabled={again.isPending}
          onClick={() => again.mutate({ heldAgainst: { kind: 'auto' } })}
          sx={{ alignSelf: 'flex-start' }}
        >
          {say`Hold it against that instead`}
        </Button>
      )}
      <ProblemNote error={again.error} />
    </Stack>
  )
}

/** Which reference a log was held against, and why; or that it differs throughout, and what explains it better. */
export const ReferenceSentence = ({ debrief: { review } }: { debrief: Debrief }) =>
  review.reference && (
    <Typography variant="text" color={review.reference.instead ? 'warning.main' : 'text.secondary'}>
      {review.reference.instead ? differsText(review.reference.instead) : referenceText(review.reference.told, review.reference.why)}
    </Typography>
  )

const alike = (a: OwnThresholds, b: OwnThresholds): boolean => {
  const names = new Set([...Object.keys(a), ...Object.keys(b)]) as Set<keyof OwnThresholds>
  return [...names].every((name) => a[name] === b[name])
}
