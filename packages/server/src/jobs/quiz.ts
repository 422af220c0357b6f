import { planSource, type QuizJudgement, type StoredPlan } from '@ochote/contract'
import {
  type ConesOfDay,
  CoreError,
  coneSetOfDay,
  type DayFlag,
  judgeAnswer,
  type KeyedQuestion,
  makeQuiz,
  nextQuestions,
  type Plan,
  type Planner,
  placeAt,
  type QuizAnswer,
  type QuizHistory,
  type QuizQuestion,
  type Vehicle,
} from '@ochote/core'

/**
 * What a student's quiz is made from. `cones`: the day, its school and students, so that the quiz asks about the cones that are
 * out; `vehicles`: all that the day's cones serve.
 */
export type QuizInput = StoredPlan & {
  cones: ConesOfDay
  vehicles: readonly Vehicle[]
  flags: readonly DayFlag[]
  seed: number
  history: QuizHistory
  count: number
}
/** An answer to judge. */
export type JudgeInput = QuizInput & { questionId: string; answer: QuizAnswer }

const poolOf = (planner: Planner, input: QuizInput): { plan: Plan; pool: KeyedQuestion[] } => {
  const plan = planner.plan(planSource(input))
  const { cones, scheme } = coneSetOfDay(input.cones, (settings) => {
    const vehicle = input.vehicles.find((v) => v.id === settings.vehicleId) ?? input.vehicle
    return planner.plan(planSource({ circuit: input.circuit, vehicle, settings }))
  })
  return { plan, pool: makeQuiz({ plan, scheme, flags: input.flags, cones }, input.seed) }
}

/** The next questions for a student, without their keys. */
export const askFrom = (planner: Planner, input: QuizInput): QuizQuestion[] =>
  nextQuestions(poolOf(planner, input).pool, input.history, input.count).map((k) => k.question)

/** Judges an answer: whether it is right, what is, and at which corner. @throws CoreError for a question that this plan does not ask */
export const judgeFrom = (planner: Planner, input: JudgeInput): QuizJudgement & { cornerId: string | null } => {
  const { plan, pool } = poolOf(planner, input)
  const keyed = pool.find((k) => k.question.id === input.questionId)
  if (!keyed) throw new CoreError('question-unknown', input.questionId, { id: input.questionId })
  const { key, cornerId } = keyed
  const { right, off_m } = judgeAnswer(keyed, input.answer, plan)
  const place = key.form === 'place' ? placeAt(plan.circuit, key.station_m, 0) : null
  return {
    cornerId,
    right,
    off_m,
    choice: key.form === 'choose' ? key.choice : null,
    order: key.form === 'order' ? [...key.order] : null,
    place: place ? { x_m: place.x_m, y_m: place.y_m } : null,
  }
}
