import type { MistakeCode, Skill } from '../mistakes/mistakes.ts'
import type { Level } from './level.ts'

/** Decisions about a student between runs, appended and never changed. */
export type StudentEvent = { id: string; studentId: string; at: string } & (
  | /** A person has seen the skill too; `shows` is what the record said at that moment. */ {
      kind: 'skill-confirmed'
      skill: Skill
      shows: string
    }
  | { kind: 'skill-withdrawn'; skill: Skill; why: string }
  | { kind: 'level-set'; level: Level; why: string }
  /** The next focus as a person set it; null goes back to the record's suggestion. */
  | { kind: 'focus-set'; focus: { cornerId: string; code: MistakeCode } | null; note: string }
  /** The hand-over as a person wrote it; null goes back to the one made from the record. */
  | { kind: 'hand-over'; text: string | null }
  /** True if this student's laps may be shown to others as a reference. */
  | { kind: 'laps-shared'; agreed: boolean }
)

/** The current decisions about a student. */
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
