import { type MistakeCode, mistakeCodes, type Skill, skills } from '@ochote/core'
import { z } from 'zod'
import { incidentActions, incidentKinds } from './day-event.ts'
import { levelSchema } from './student.ts'

const common = { id: z.uuid(), studentId: z.string().min(1).max(80), at: z.iso.datetime() }
const code = z.enum(mistakeCodes as [MistakeCode, ...MistakeCode[]])
const skill = z.enum(skills as unknown as [Skill, ...Skill[]])
const note = z.string().trim().max(300)

/** What people decide about a student between runs, appended and never changed. */
export const studentEventSchema = z.discriminatedUnion('kind', [
  /** A person has seen the skill too; `shows` is what the record said at that moment. */
  z.object({ ...common, kind: z.literal('skill-confirmed'), skill, shows: note }),
  z.object({ ...common, kind: z.literal('skill-withdrawn'), skill, why: note }),
  z.object({ ...common, kind: z.literal('level-set'), level: levelSchema, why: note }),
  /** Work on this next, whatever the record says; an empty corner goes back to what the record says. */
  z.object({ ...common, kind: z.literal('focus-set'), focus: z.object({ cornerId: z.string(), code }).nullable(), note }),
  /** The hand-over as a person wrote it; null goes back to the one made from the record. */
  z.object({ ...common, kind: z.literal('hand-over'), text: z.string().trim().max(2400).nullable() }),
  /** Whether this student's laps may be shown to others as a reference. */
  z.object({ ...common, kind: z.literal('laps-shared'), agreed: z.boolean() }),
])
export type StudentEvent = z.infer<typeof studentEventSchema>

/** An event of a student with who said it. */
export const toldOfStudentSchema = z.object({ by: z.string().nullable(), event: studentEventSchema })
export type ToldOfStudent = z.infer<typeof toldOfStudentSchema>

/** What the events of a student amount to. */
export type StudentState = {
  confirmed: Set<Skill>
  focus: { cornerId: string; code: MistakeCode; note: string; at: string } | null
  handOver: { text: string; at: string } | null
  lapsShared: boolean
}

/** Reads the events of a student in their order. */
export const studentStateOf = (events: readonly StudentEvent[]): StudentState => {
  const state: StudentState = { confirmed: new Set(), focus: null, handOver: null, lapsShared: false }
  for (const event of events)
    switch (event.kind) {
      case 'skill-confirmed':
        state.confirmed.add(event.skill)
        break
      case 'skill-withdrawn':
        state.confirmed.delete(event.skill)
        break
      case 'focus-set':
        state.focus = event.focus && { ...event.focus, note: event.note, at: event.at }
        break
      case 'hand-over':
        state.handOver = event.text === null ? null : { text: event.text, at: event.at }
        break
      case 'laps-shared':
        state.lapsShared = event.agreed
        break
    }
  return state
}

/** A student in an incident. */
export const incidentOfStudentSchema = z.object({
  date: z.string(),
  what: z.enum(incidentKinds),
  cornerId: z.string().nullable(),
  action: z.enum(incidentActions),
})
