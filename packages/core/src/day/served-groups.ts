import type { LineMethod } from '../line/line-method.ts'
import { type CarsOfDay, type GroupSettings, type PlanChoice, settingsOfStudent } from './day.ts'
import { type Level, levels } from './level.ts'
import type { Student } from './student.ts'

/** Who drives to the same cones: the vehicle, the least experienced of them, and the highest pace that they drive today. */
export type ServedByDay = { vehicleId: string; level: Level; pace: number }

/**
 * For whom the cones of a day stand beside its plan, by its groups: one entry for each vehicle of a group that is driven otherwise than the
 * plan (`level`: whom its cones are for), and the lines that groups drive instead of the plan's. Cost: students.
 */
export const servedByGroups = (
  day: CarsOfDay & { settings: PlanChoice; groups: readonly GroupSettings[] },
  students: readonly Pick<Student, 'id' | 'level'>[],
  level: Level,
): { served: ServedByDay[]; lines: LineMethod[] } => {
  const served: ServedByDay[] = []
  const lines = new Set<LineMethod>()
  for (const group of day.groups)
    for (const student of students.filter((s) => group.studentIds.includes(s.id))) {
      const { vehicleId, pace, method } = settingsOfStudent(student.id, day)
      if (method !== day.settings.method) lines.add(method)
      const highest = Math.max(pace, ...(group.laterPaces ?? []))
      const same = served.find((s) => s.vehicleId === vehicleId && s.pace === highest)
      if (!same) served.push({ vehicleId, level: student.level, pace: highest })
      else if (levels.indexOf(student.level) < levels.indexOf(same.level)) same.level = student.level
    }
  const isPlan = (s: ServedByDay): boolean =>
    s.vehicleId === day.settings.vehicleId && s.pace === day.settings.pace && levels.indexOf(s.level) >= levels.indexOf(level)
  return { served: served.filter((s) => !isPlan(s)), lines: [...lines] }
}
