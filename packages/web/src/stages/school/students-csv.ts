import type { StoredStudent } from '@ochote/contract'
import { levelName, writeRows } from '@ochote/core'

/** All students as a table that the list of people reads again. */
export const studentsCsv = (students: readonly StoredStudent[]): string =>
  writeRows(
    ['Name', 'Level', 'Talk', 'Language', 'Units', 'Car', 'Experience', 'Goals', 'Put away'],
    students.map(({ name, level, talk, units, profile, archivedAt }) => [
      name,
      levelName(level),
      talk,
      profile.language ?? '',
      units,
      profile.car,
      profile.experience,
      profile.goals,
      archivedAt?.slice(0, 10) ?? '',
    ]),
  )
