export { cornersToReview, type Spread, spreadOf } from './class-review.ts'
export { type Outcome, outcomeOf, type Said, type StuckRate, stuckRates } from './corrections.ts'
export { type Difference, differenceOf, type Share, shareOf } from './estimate.ts'
export {
  type Focus,
  type LikelyHints,
  likelyMistakes,
  nextFocus,
  type Seen,
  type StuckAt,
  type Tally,
  tallySeen,
} from './focus.ts'
export { type DayGap, forgetting } from './forgetting.ts'
export { type Former, type GroupPass, type GroupSeen, type GroupTally, groupPicture, type Helped, helpedBy } from './group.ts'
export { type HomeAndTrack, homeAndTrack } from './home-and-track.ts'
export { joinRun, type RunKnown, rootSeenToo, type SeenAt } from './joined.ts'
export { markOfMistake, missRates } from './miss-rate.ts'
export { type LapMiss, type PaceAdvice, type PaceReason, paceAdvice, paceCeiling, paceSteps } from './pace-step.ts'
export { type PadAttempt, type PadStanding, padFocus, padStandings } from './pad-standing.ts'
export type { PassKnown } from './passes.ts'
export { planRisks } from './risks.ts'
export { levelAhead, SKILL_ASKS, type SkillStanding, skillStandings } from './skill-levels.ts'
export { type SkillCell, skillPicture } from './skill-picture.ts'
