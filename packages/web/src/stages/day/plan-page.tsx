import { Button, Checkbox, FormControlLabel, LinearProgress, Stack, Typography } from '@mui/material'
import { emphases, groupsOfDay, type PlannedSession } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useState } from 'react'
import { Link } from 'react-router'
import { runsQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { usePlanHistory } from '../../data/day/use-plan-history.ts'
import { say } from '../../language/say.ts'
import { Folded } from '../../shared/folded.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { Announce } from './announce.tsx'
import { PlanExceptions } from './plan-exceptions.tsx'
import { FaultsAtFields } from './plan-faults.tsx'
import { Fits } from './plan-fits.tsx'
import { EditableBoard, PaddockBoard } from './plan-in-use.tsx'
import { PlanInputs, type PlanningChange } from './plan-inputs.tsx'
import { Proposal } from './plan-proposal.tsx'
import { emphasisNames, PlansBeside } from './plans-beside.tsx'
import { useDaySearch } from './use-day-search.ts'
import { useNow, useSetup } from './use-day-setup.ts'
import { withPlan } from './with-plan.ts'

/** Plans the day: what it gives, whether that fits, the plan that is found, and how it changes what was told. */
export const PlanPage = () => {
  const { day, error: dayError } = useDay()
  const { change, undo, redo } = usePlanHistory()
  const now = useNow(day?.plan.date)
  const { setup, wrong, names, error } = useSetup(day, now)
  const runs = useQuery({ ...runsQuery({ dayId: day?.id ?? '' }), enabled: day !== undefined })
  const driven = new Set(runs.data?.flatMap((run) => run.slotId ?? []))
  const { search, kept, emphasis, setEmphasis, ...searching } = useDaySearch()
  const [little, setLittle] = useState(true)
  if (!day)
    return (
      <Stack spacing={4}>
        <StageHead stage="Day" />
        <ProblemNote error={dayError} />
        <Typography>
          {say`No day yet.`} <Link to="/day/all">{say`Make a day`}</Link>
        </Typography>
      </Stack>
    )
  const { planning } = day.plan
  const put = (next: PlanningChange): void =>
    change((plan) => ({ ...plan, planning: { ...plan.planning, ...(typeof next === 'function' ? next(plan.planning) : next) } }))
  const start = (): void => {
    if (setup) searching.start(little ? setup : { ...setup, announced: setup.kept })
  }
  const use = (sessions: PlannedSession[]): void => {
    searching.drop()
    change((plan) => withPlan(plan, sessions, driven))
  }
  return (
    <Stack spacing={4}>
      <StageHead stage="Day" facts={[day.plan.title, dayjs(day.plan.date).format(say`dddd D MMMM YYYY`)].join(' · ')}>
        <UndoRedo undo={undo} redo={redo} />
      </StageHead>
      <ProblemNote error={error ?? runs.error ?? search.error} />
      <FaultsAtFields setup={setup} wrong={wrong} names={names}>
        <Folded key={day.id} name={say`What the day gives`} open={planning.sessions.length === 0}>
          <PlanInputs
            planning={planning}
            groups={groupsOfDay(day.plan)}
            cars={day.plan.cars.map((c) => [c.id, c.number] as const)}
            onChange={put}
          />
        </Folded>
        <PlanExceptions
          planning={planning}
          students={day.plan.studentIds.map((id) => [id, names.student(id)] as const)}
          instructors={day.plan.instructorIds.map((id) => [id, names.instructor(id)] as const)}
          cars={day.plan.cars.map((c) => [c.id, c.number] as const)}
          now={now}
          onChange={put}
        />
      </FaultsAtFields>
      {!setup && <Reading what={say`Reading the day …`} />}
      {setup && (
        <>
          <Fits setup={setup} wrong={wrong} names={names} />
          <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
            <Button
              variant={search.plan || planning.sessions.length > 0 ? 'outlined' : 'contained'}
              disabled={search.searching || wrong.length > 0 || !runs.data}
              onClick={start}
            >
              {now !== null && setup.kept.length > 0 ? say`Plan the rest of the day` : say`Plan the day`}
            </Button>
            {search.searching && (
              <Button variant="outlined" onClick={searching.stop}>
                {say`Stop, keep this plan`}
              </Button>
            )}
            {search.plan && !search.searching && (
              <Button variant="outlined" onClick={searching.keep} disabled={kept.some((k) => k.plan === search.plan)}>
                {say`Keep it beside others`}
              </Button>
            )}
            <PickField
              label={say`Weigh more`}
              value={emphasis}
              options={emphases.map((e) => [e, emphasisNames[e]] as const)}
              onPick={setEmphasis}
              width={190}
            />
            {planning.sessions.length > 0 && (
              <FormControlLabel
                control={<Checkbox size="small" checked={little} onChange={(_, on) => setLittle(on)} />}
                label={say`Change as little as possible of the plan in use`}
              />
            )}
          </Stack>
          {planning.sessions.length > 0 && <Announce plan={day.plan} nameOf={names.student} onChange={change} />}
          {planning.sessions.length > 0 && (
            <PaddockBoard dayId={day.id} plan={day.plan} onChange={(board) => change((plan) => ({ ...plan, board }))} />
          )}
          {search.searching && <LinearProgress aria-label={say`Looking for a better plan`} />}
          <PlansBeside setup={setup} kept={kept} onUse={(plan) => use(plan.sessions)} onForget={searching.forget} />
          {search.plan ? (
            <Proposal
              setup={setup}
              search={search}
              plan={search.plan}
              used={planning.sessions}
              names={names}
              now={now}
              onUse={use}
              onDrop={searching.drop}
            />
          ) : (
            // Only once it is known what was driven may the plan be changed.
            runs.data &&
            planning.sessions.length > 0 && (
              <EditableBoard
                setup={setup}
                sessions={planning.sessions}
                locked={planning.locked}
                told={planning.told}
                runs={runs.data}
                names={names}
                now={now}
                onUse={(sessions, locked) => change((plan) => withPlan(plan, sessions, driven, locked))}
              />
            )
          )}
          <Caution />
        </>
      )}
    </Stack>
  )
}
