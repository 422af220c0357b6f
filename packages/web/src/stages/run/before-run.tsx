import { Box } from '@mui/material'
import type { Run } from '@ochote/contract'
import { briefingParts, carOfRun, cornerName, type Plan, preparationOf, quizGaps, sectionsOfStudent } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { carConditionsQuery, dayEventsQuery, dayQuery } from '../../data/api/queries.ts'
import { useRunEvents } from '../../data/events/use-run-events.ts'
import { say } from '../../language/say.ts'
import { conditionInWords, isGrounded } from '../../shared/condition-words.ts'
import { memoryGapsInWords } from '../../shared/memory-words.ts'
import { CarAfterRun } from './car-condition.tsx'
import { CheckOff } from './check-off.tsx'

/** The car of a run, by its place in the day. */
const useCar = (run: Run) => {
  const day = useQuery(dayQuery(run.dayId))
  return { day: day.data, car: day.data && carOfRun(run, day.data.plan) }
}

/** Said with the checks, once somebody has looked at a car that nobody was to drive. */
const PUT_RIGHT = say`Car came back with “do not drive”; somebody has put it right since`

/** The car of a run that somebody said nobody should drive, until somebody says that it was put right; else null. */
export const useGrounded = (run: Run): { number: string; putRight: () => void } | null => {
  const { car } = useCar(run)
  const events = useRunEvents(run.id)
  const conditions = useQuery(carConditionsQuery(run.dayId))
  const last = conditions.data?.find((c) => c.carId === car?.id)
  const open = events.checked?.open ?? []
  if (!car || !last || last.runId === run.id || !isGrounded(last) || open.includes(PUT_RIGHT)) return null
  return { number: car.number, putRight: () => void events.check([...open, PUT_RIGHT]) }
}

/** Checks before rolling, and the car's condition after its last run. */
export const Before = ({ run }: { run: Run }) => {
  const { day, car } = useCar(run)
  const events = useRunEvents(run.id)
  const conditions = useQuery(carConditionsQuery(run.dayId))
  const last = conditions.data?.find((c) => c.carId === car?.id)
  const condition = last && conditionInWords(last)
  return (
    <>
      {car && condition && (
        <Box role="note" sx={{ fontSize: 'size.note', fontWeight: 650, color: 'warning.main' }}>
          {say`Car ${car.number} came back at ${last.at.slice(11, 16)} with ${condition}.`}
        </Box>
      )}
      {day && <CheckOff lines={day.plan.checkOff} checked={events.checked} onCheck={(open) => void events.check(open)} />}
    </>
  )
}

/** The car's condition, asked once the run is over. */
export const TellCar = ({ run }: { run: Run }) => {
  const { car } = useCar(run)
  const events = useRunEvents(run.id)
  return car ? <CarAfterRun number={car.number} told={events.car} onTell={(condition) => void events.tellCar(car.id, condition)} /> : null
}

/** Gaps to close with the student before the run: corners of the group, parts not acknowledged, the radio, corners missed in the quiz. */
export const Remembered = ({ run, plan }: { run: Run; plan: Plan }) => {
  const events = useQuery(dayEventsQuery(run.dayId))
  const day = useQuery(dayQuery(run.dayId))
  if (!events.data) return null
  const sections = sectionsOfStudent(run.studentId, day.data?.plan.groups ?? []).map((id) => cornerName(plan.corners, id))
  const { acknowledged, radioHeard, answers, rounds } = preparationOf(events.data, run.studentId)
  const fromMemory = memoryGapsInWords(rounds, (id) => cornerName(plan.corners, id))
  const open = briefingParts.filter((part) => !acknowledged[part])
  const gaps = quizGaps(answers).map((g) => cornerName(plan.corners, g.cornerId, say`flags, cones or emergencies`))
  return (
    <Box component="section" aria-label={say`Before the run`} sx={{ fontSize: 'size.note', lineHeight: 1.4 }}>
      {sections.length > 0 && <Box sx={{ fontWeight: 650 }}>{say`To work on today: ${sections.join(', ')}`}</Box>}
      <Box sx={{ fontWeight: gaps.length > 0 ? 650 : 400 }}>
        {gaps.length > 0
          ? say`Still to learn: ${gaps.join(', ')}`
          : answers.length > 0
            ? say`No gaps in the recall quiz.`
            : say`No recall quiz taken yet.`}
      </Box>
      {rounds.length > 0 && (
        <Box>{fromMemory === '' ? say`Knew the lap from memory.` : say`From memory still to learn: ${fromMemory}`}</Box>
      )}
      <Box sx={{ color: open.length > 0 || !radioHeard ? 'warning.main' : 'text.secondary' }}>
        {`${open.length === 0 ? say`Briefing acknowledged.` : say`Briefing not acknowledged: ${open.join(', ')}.`} ${radioHeard ? say`Radio heard.` : say`Radio not checked.`}`}
      </Box>
    </Box>
  )
}
