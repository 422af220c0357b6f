import { createHash } from 'node:crypto'
import { planSource, type QuizJudgement, type StoredPlan } from '@ochote/contract'
import {
  type Cone,
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
import { LRUCache } from 'lru-cache'

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

/** A day's plan with its cones, and the questions of a seed: a student asks and answers several times, and students share their day. */
type DayMade = { plan: Plan } & ReturnType<typeof coneSetOfDay>
const days = new LRUCache<string, DayMade>({ max: 20 })
const pools = new LRUCache<string, KeyedQuestion[]>({ max: 200 })

const hashOf = (of: unknown): string => createHash('sha256').update(JSON.stringify(of)).digest('base64')
const cached = <T extends object>(cache: LRUCache<string, T>, key: string, make: () => T): T => {
  const value = cache.get(key) ?? make()
  cache.set(key, value)
  return value
}

/** What a student's questions and rounds from memory are made from. */
export type OfDayInput = Pick<QuizInput, 'circuit' | 'vehicle' | 'settings' | 'cones' | 'vehicles'>

const dayOf = (planner: Planner, input: OfDayInput): DayMade & { key: string } => {
  const source = planSource(input)
  const { circuitKey, notes, vehicle, settings } = source
  const key = hashOf([circuitKey, notes, vehicle, settings, input.cones, input.vehicles])
  const made = cached(days, key, () => ({
    plan: planner.plan(source),
    ...coneSetOfDay(input.cones, (of) => {
      const driven = input.vehicles.find((v) => v.id === of.vehicleId) ?? input.vehicle
      return planner.plan(planSource({ circuit: input.circuit, vehicle: driven, settings: of }))
    }),
  }))
  return { ...made, key }
}

/** The cones that a student meets on a day. */
export const conesFrom = (planner: Planner, input: OfDayInput): Cone[] => dayOf(planner, input).cones

const poolOf = (planner: Planner, input: QuizInput): { plan: Plan; pool: KeyedQuestion[] } => {
  const { key: ofDay, plan, cones, scheme } = dayOf(planner, input)
  const { flags, seed } = input
  return { plan, pool: cached(pools, hashOf([ofDay, flags, seed]), () => makeQuiz({ plan, scheme, flags, cones }, seed)) }
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
