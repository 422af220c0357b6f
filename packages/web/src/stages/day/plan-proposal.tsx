import { Alert, Box, Button, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { type DaySetup, type DayTimetable, firstName, judgePlan, missingIn, type PlannedSession, planChanges } from '@ochote/core'
import { useMemo, useState } from 'react'
import { say } from '../../language/say.ts'
import { type DaySearch, SECONDS } from '../../workers/day-solver.ts'
import { DayBoard } from './day-board.tsx'
import { brokenInWords, costNames, nameOfFormat, reliefInWords, reliefNames } from './plan-words.ts'
import { type Names, nameIn } from './use-day-setup.ts'

type ProposalProps = {
  setup: DaySetup
  search: DaySearch
  plan: DayTimetable
  used: readonly PlannedSession[]
  names: Names
  now: string | null
  onUse: (sessions: PlannedSession[]) => void
  onDrop: () => void
}

/** A plan that is offered: what it costs and leaves out, what it changes, and its board. */
export const Proposal = ({ setup, search, plan: careful, used, names, now, onUse, onDrop }: ProposalProps) => {
  const [which, setWhich] = useState<Which>('careful')
  const plan = which === 'freely' && search.freely ? search.freely : careful
  const outdated = useMemo(() => noLongerFits(setup, plan, names), [setup, plan, names])
  const missing = missingIn(plan)
  const people = Math.max(1, setup.students.length)
  const gap = search.bound ? Math.max(0, plan.cost - search.bound.cost) : null
  const parts = (Object.keys(plan.costs) as (keyof typeof plan.costs)[]).filter((part) => plan.costs[part] >= 0.5)
  return (
    <Stack spacing={3} component="section" aria-label={say`Proposed plan`}>
      <HowMuch search={search} careful={careful} used={used} which={which} onPick={setWhich} />
      <Box role="status" aria-label={say`What the plan does`}>
        <Typography sx={{ fontWeight: 640 }}>
          {missing === 0
            ? say`Everybody gets everything.`
            : say`Left out: ${plan.leftOut
                .slice(0, 8)
                .map((l) => `${names.student(l.studentId)} (${nameOfFormat(setup, l.formatId)}${l.missing > 1 ? ` ×${l.missing}` : ''})`)
                .join(', ')}${plan.leftOut.length > 8 ? ' …' : ''}.`}
        </Typography>
        <Typography className="figures">
          {say`Costs ${Math.round(plan.cost)} minutes: ${parts.map((part) => `${costNames[part]} ${Math.round(plan.costs[part])}`).join(', ')}.`}
          {gap !== null &&
            say` Proven: no plan is better by more than ${Math.round((100 * gap) / Math.max(1, plan.cost))}%, or ${Math.round(gap / people)} minutes a student.`}
        </Typography>
        {search.seated && which === 'careful' && (
          <Typography>{say`Proven: in these sessions nobody can be placed better, as far as it is their own day alone.`}</Typography>
        )}
        {search.clash?.proven && (
          <Typography>
            {search.clash.rules.length > 0
              ? say`Proven: at least ${Math.ceil(search.clash.leftOut - 1e-6)} must be left out, because of ${search.clash.rules.map((r) => reliefNames[r]).join(', ')}.`
              : say`Proven: at least ${Math.ceil(search.clash.leftOut - 1e-6)} must be left out.`}
          </Typography>
        )}
        {search.clash && !search.clash.proven && (
          <Typography>{say`A plan without that was not found in ${SECONDS} s; nothing proves that there is none.`}</Typography>
        )}
        {search.reliefs.length > 0 && (
          <Typography>
            {say`Found, so that less may be possible: ${search.reliefs.map(({ what, leftOut: left }) => say`${reliefInWords(what, (id) => nameOfFormat(setup, id))}: ${left} left out`).join('; ')}.`}
          </Typography>
        )}
        <PlanDifferences used={used} plan={plan} names={names} />
      </Box>
      <NoLongerFits broken={outdated} />
      <Stack direction="row" spacing={2}>
        <Button variant={outdated.length === 0 ? 'contained' : 'outlined'} onClick={() => onUse(plan.sessions)}>
          {say`Use this plan`}
        </Button>
        <Button variant="outlined" onClick={onDrop}>
          {say`Drop it`}
        </Button>
      </Stack>
      <DayBoard setup={setup} sessions={plan.sessions} names={names} now={now} />
    </Stack>
  )
}

/** What a plan that was found breaks in the day as it is now, in words: what happened after its search began, it does not know. */
export const noLongerFits = (setup: DaySetup, plan: DayTimetable, names: Names): string[] =>
  brokenInWords(judgePlan(setup, plan.sessions).broken, (id) => nameIn(names, id))

/** Warns of a plan that was overtaken by what happened while it was searched for, or since. */
export const NoLongerFits = ({ broken }: { broken: readonly string[] }) =>
  broken.length > 0 && (
    <Alert severity="warning" icon={false}>
      {say`The day has changed since this was looked for, and this plan does not fit any more: ${broken.slice(0, SHOWN).join('; ')}. Plan it again.`}
    </Alert>
  )

type Which = 'careful' | 'freely'

/** Both ends, where they differ: few changes and more left out, or any changes. */
export const HowMuch = ({
  search,
  careful,
  used,
  which,
  onPick,
}: {
  search: DaySearch
  careful: DayTimetable
  used: readonly PlannedSession[]
  which: Which
  onPick: (which: Which) => void
}) => {
  if (!search.freely || used.length === 0) return null
  const inWords = (one: DayTimetable): string =>
    say`something else for ${planChanges(used, one.sessions).length}, ${missingIn(one)} left out`
  return (
    <ToggleButtonGroup
      size="small"
      exclusive
      value={which}
      aria-label={say`How much changes`}
      onChange={(_, next: Which | null) => next && onPick(next)}
    >
      <ToggleButton value="careful">{say`Few changes: ${inWords(careful)}`}</ToggleButton>
      <ToggleButton value="freely">{say`Any changes: ${inWords(search.freely)}`}</ToggleButton>
    </ToggleButtonGroup>
  )
}

/** Lines of differences that are shown at once. */
const SHOWN = 8

/** Whose times a plan changes against the one in use: what each had, and has. */
export const PlanDifferences = ({ used, plan, names }: { used: readonly PlannedSession[]; plan: DayTimetable; names: Names }) => {
  const changes = useMemo(() => (used.length > 0 ? planChanges(used, plan.sessions) : []), [used, plan.sessions])
  const [all, setAll] = useState(false)
  if (changes.length === 0) return null
  const timesOf = (sessions: readonly PlannedSession[], studentId: string): string => {
    const one = (s: PlannedSession): string => {
      const carId = s.seats.find((seat) => seat.studentId === studentId)?.carId
      const about = [s.instructorId !== null && firstName(names.instructor(s.instructorId)), carId && say`car ${names.car(carId)}`]
      return [s.start, ...about].filter(Boolean).join(' ')
    }
    return sessions.map(one).join(', ') || say`nothing`
  }
  return (
    <Box role="group" aria-label={say`What changes for whom`}>
      <Typography>
        {changes.length === 1
          ? say`One person changes against the plan in use:`
          : say`${changes.length} people change against the plan in use:`}
      </Typography>
      <Box component="ul" className="figures" sx={{ m: 0, pl: 4 }}>
        {changes.slice(0, all ? undefined : SHOWN).map((c) => (
          <li
            key={c.studentId}
          >{say`${names.student(c.studentId)}: ${timesOf(c.gone, c.studentId)} → ${timesOf(c.added, c.studentId)}`}</li>
        ))}
      </Box>
      {changes.length > SHOWN && !all && (
        <Button size="small" variant="text" onClick={() => setAll(true)}>
          {say`Show the other ${changes.length - SHOWN}`}
        </Button>
      )}
    </Box>
  )
}
