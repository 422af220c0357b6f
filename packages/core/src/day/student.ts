import type { UnitSystem } from '../units/format.ts'
import type { Language } from '../units/language.ts'
import type { Intensity } from './intensity.ts'
import type { Level } from './level.ts'

/** What students say about themselves, as far as they want to. */
export type StudentProfile = {
  experience: string
  car: string
  goals: string
  /** Ids of corners that feel wrong. */
  worries: string[]
  /** Language of calls and hand-outs; null where nobody said. */
  language: Language | null
}

/** A student: only what the day needs. */
export type Student = { id: string; name: string; level: Level; talk: Intensity; units: UnitSystem; profile: StudentProfile }

/** The first of somebody's names, as one calls them. */
export const firstName = (name: string): string => name.split(' ')[0]

/** Amount of talk for a student: what they asked for; one reminder per corner for somebody unknown. */
export const intensityFor = (student: Pick<Student, 'talk'> | undefined): Intensity => student?.talk ?? 'guided'
