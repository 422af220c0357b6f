import type { Debrief } from '@ochote/contract'

/** A debrief without the laps that somebody else drove. */
export const withoutLaps = (debrief: Debrief, gone: ReadonlySet<number>): Debrief => {
  if (gone.size === 0) return debrief
  const stays = ({ lap }: { lap: number }): boolean => !gone.has(lap)
  return {
    ...debrief,
    laps: debrief.laps.filter(stays),
    findings: debrief.findings.filter(stays),
    review: { ...debrief.review, passes: debrief.review.passes.filter(stays), untold: debrief.review.untold.filter(stays) },
  }
}
