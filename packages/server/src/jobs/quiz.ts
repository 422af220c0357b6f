import type { QuizJudgement, StoredPlan } from '@ochote/contract'
import {
  type ConeScheme,
  CoreError,
  judgeAnswer,
  type KeyedQuestion,
  type Level,
  levelReaction_s,
  makeQuiz,
  nextQuestions,
  type Plan,
  placeAt,
  placeCones,
  type QuizAnswer,
  type QuizHistory,
  type QuizQuestion,
} from '@ochote/core'

/** What a student's quiz is made from. */
export type QuizInput = StoredPlan & {
  scheme: ConeScheme
  flags: readonly { name: string; meaning: string }[]
  level: Level
  seed: number
  history: QuizHistory
  count: number
}
/** An answer to judge. */
export type JudgeInput = QuizInput & { questionId: string; answer: QuizAnswer }

const poolOf = (plan: Plan, { scheme, flags, level, seed }: QuizInput): KeyedQuestion[] =>
  makeQuiz({ plan, scheme, flags, cones: placeCones(plan, scheme, { reaction_s: levelReaction_s[level] }).cones }, seed)

/** The next questions for a student, without their keys. */
export const askFrom = (plan: Plan, input: QuizInput): QuizQuestion[] =>
  nextQuestions(poolOf(plan, input), input.history, input.count).map((k) => k.question)

/** Whether an answer is right, what is, and at which corner. @throws CoreError for a question that this plan does not ask */
export const judgeFrom = (plan: Plan, input: JudgeInput): QuizJudgement & { cornerId: string | null } => {
  const keyed = poolOf(plan, input).find((k) => k.question.id === input.questionId)
  if (!keyed) throw new CoreError('question-unknown', input.questionId, { id: input.questionId })
  const { key, cornerId } = keyed
  const { right, off_m } = judgeAnswer(keyed, input.answer, plan)
  const at = key.form === 'place' ? placeAt(plan.circuit, key.station_m, 0) : null
  return {
    cornerId,
    right,
    off_m,
    choice: key.form === 'choose' ? key.choice : null,
    order: key.form === 'order' ? [...key.order] : null,
    place: at ? { x_m: at.x_m, y_m: at.y_m } : null,
  }
}
