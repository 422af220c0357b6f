import type { DayPlan } from '@ochote/contract'
import { say } from '../../language/say.ts'

/** Kinds of slots in a day's plan. */
export const kindWords: Record<DayPlan['slots'][number]['kind'], string> = {
  briefing: say`Briefing`,
  run: say`Run`,
  classroom: say`Classroom`,
  pad: say`Pad`,
  break: say`Break`,
}
