import type { DayPlan } from '@ochote/contract'

/** Kinds of slots in a day's plan. */
export const kindWords: Record<DayPlan['slots'][number]['kind'], string> = {
  briefing: 'Briefing',
  run: 'Run',
  classroom: 'Classroom',
  pad: 'Pad',
  break: 'Break',
}
