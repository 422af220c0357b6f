import type { ConeReport, DayEvent } from '@ochote/core'

/** Reports of cones among a day's events, in their order. */
export const reportsOf = (events: readonly DayEvent[]): ConeReport[] =>
  events.flatMap((e) => (e.kind === 'cone-report' ? [{ coneId: e.coneId, state: e.state, at: e.at }] : []))
