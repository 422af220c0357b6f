import { coneStates } from '@ochote/core'
import { z } from 'zod'

const common = { id: z.uuid(), dayId: z.string().min(1).max(80), at: z.iso.datetime() }

/** The parts of a briefing that a student acknowledges one by one. */
export const briefingParts = ['safety', 'flags', 'pits', 'signals', 'cones', 'car', 'circuit'] as const
export type BriefingPart = (typeof briefingParts)[number]

/** What happens in a day beside its runs, appended and never changed; an undo is an event too. */
export const dayEventSchema = z.discriminatedUnion('kind', [
  z.object({
    ...common,
    kind: z.literal('cone-report'),
    coneId: z.string().max(80),
    state: z.enum(coneStates),
    error_m: z.number().nullable(),
  }),
  z.object({ ...common, kind: z.literal('acknowledged'), studentId: z.string(), part: z.enum(briefingParts) }),
  z.object({ ...common, kind: z.literal('radio-heard'), studentId: z.string() }),
  z.object({
    ...common,
    kind: z.literal('quiz-answer'),
    studentId: z.string(),
    questionId: z.string().max(80),
    cornerId: z.string().nullable(),
    right: z.boolean(),
  }),
  z.object({ ...common, kind: z.literal('undo'), undoes: z.uuid() }),
])
export type DayEvent = z.infer<typeof dayEventSchema>

/** The events that no undo took back, in the order given. */
export const standingDayEvents = (events: readonly DayEvent[]): DayEvent[] => {
  const undone = new Set(events.flatMap((e) => (e.kind === 'undo' ? [e.undoes] : [])))
  return events.filter((e) => e.kind !== 'undo' && !undone.has(e.id))
}

/** What is known of one student's preparation on a day: when each part was acknowledged, the radio heard, what was answered. */
export type Preparation = {
  acknowledged: Partial<Record<BriefingPart, string>>
  radioHeard: string | null
  answers: { questionId: string; cornerId: string | null; right: boolean }[]
}

/** A student's preparation from the day's events; the first acknowledgement of a part counts. */
export const preparationOf = (events: readonly DayEvent[], studentId: string): Preparation => {
  const out: Preparation = { acknowledged: {}, radioHeard: null, answers: [] }
  for (const event of standingDayEvents(events)) {
    if (event.kind === 'cone-report' || event.kind === 'undo' || event.studentId !== studentId) continue
    if (event.kind === 'acknowledged') out.acknowledged[event.part] ??= event.at
    else if (event.kind === 'radio-heard') out.radioHeard ??= event.at
    else out.answers.push({ questionId: event.questionId, cornerId: event.cornerId, right: event.right })
  }
  return out
}

/** A batch of events; those already known are not stored twice. */
export const dayEventBatchSchema = z.object({ events: z.array(dayEventSchema).min(1).max(200) })
