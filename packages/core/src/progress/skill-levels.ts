import { type Level, levels } from '../day/level.ts'
import type { MistakeCode, Skill } from '../mistakes/mistakes.ts'
import { mistakes } from '../mistakes/mistakes.ts'
import { type Share, shareOf } from './estimate.ts'
import { inOrder, type PassKnown } from './passes.ts'

/** Test of a skill on one pass of a corner: true if the pass meets it; null where the pass cannot tell. */
type Ask = { skill: Skill; asks: string; corners: number; does: (pass: PassKnown) => boolean | null }

/** A skill is judged by the last passes of a corner: so many of so many. */
export const SKILL_ASKS = { hits: 8, of: 10 } as const

const within = (value: number | null | undefined, max: number): boolean | null =>
  value === null || value === undefined ? null : Math.abs(value) <= max
const free =
  (of: ReadonlySet<MistakeCode>, tells: (pass: PassKnown) => boolean) =>
  (pass: PassKnown): boolean | null =>
    tells(pass) ? !pass.codes.some((code) => of.has(code)) : null
const codesOf = (skill: Skill): ReadonlySet<MistakeCode> =>
  new Set((Object.keys(mistakes) as MistakeCode[]).filter((code) => mistakes[code].skill === skill))
const unsafe: ReadonlySet<MistakeCode> = new Set((Object.keys(mistakes) as MistakeCode[]).filter((code) => mistakes[code].safety))
const logged = (pass: PassKnown): boolean => pass.watched !== 'seat'
const seen = (pass: PassKnown): boolean => pass.watched !== 'log'

/** Tests of all skills, in the order in which skills build. */
const asks: readonly Ask[] = [
  {
    skill: 'eyes',
    asks: 'eyes far enough, as watched from the seat',
    corners: 2,
    does: free(codesOf('eyes'), seen),
  },
  {
    skill: 'braking-point',
    asks: 'the brake within 6 m of the mark',
    corners: 2,
    does: (p) => within(p.off?.brake_m, 6),
  },
  {
    skill: 'turn-in',
    asks: 'the turn-in within 6 m of the mark',
    corners: 3,
    does: (p) => within(p.off?.turnIn_m, 6),
  },
  {
    skill: 'apex',
    asks: 'the inside within 0.6 m of the plan',
    corners: 3,
    does: (p) => within(p.off?.apexInner_m, 0.6),
  },
  {
    skill: 'exit',
    asks: 'all of the road at the exit, and no more',
    corners: 3,
    does: free(codesOf('exit'), logged),
  },
  {
    skill: 'brake-release',
    asks: 'the brake let go as planned',
    corners: 2,
    does: free(codesOf('brake-release'), (p) => p.off !== null && p.off.brake_m !== null),
  },
  {
    skill: 'throttle',
    asks: 'the throttle opened once and kept',
    corners: 3,
    does: free(codesOf('throttle'), logged),
  },
  {
    skill: 'steering',
    asks: 'the wheel turned once',
    corners: 3,
    does: free(codesOf('steering'), logged),
  },
  {
    skill: 'carrying-speed',
    asks: 'the slowest speed within 4 km/h of the plan',
    corners: 3,
    does: (p) => within(p.off?.slowest_mps, 4 / 3.6),
  },
]

/** A student's standing in a skill: corners with what the last passes show; `shown`: enough corners meet the test. */
export type SkillStanding = {
  skill: Skill
  asks: string
  needed: number
  corners: { cornerId: string; rate: Share; met: boolean }[]
  shown: boolean
}

/** A student's standing in every skill by the record of one circuit; the corners nearest to the test first. */
export const skillStandings = (passes: readonly PassKnown[]): SkillStanding[] => {
  const ordered = inOrder(passes)
  const cornerIds = [...new Set(ordered.map((p) => p.cornerId))]
  return asks.map(({ skill, asks: words, corners: needed, does }) => {
    const corners = cornerIds
      .map((cornerId) => {
        const results = ordered
          .filter((p) => p.cornerId === cornerId)
          .map(does)
          .filter((d) => d !== null)
          .slice(-SKILL_ASKS.of)
        const rate = shareOf(results.filter(Boolean).length, results.length)
        return { cornerId, rate, met: rate.of >= SKILL_ASKS.of && rate.hits >= SKILL_ASKS.hits }
      })
      .filter((c) => c.rate.of > 0)
      .sort((a, b) => Number(b.met) - Number(a.met) || b.rate.low - a.rate.low)
    return { skill, asks: words, needed, corners, shown: corners.filter((c) => c.met).length >= needed }
  })
}

/** Skills that a level asks for, beyond those of the level before. */
const levelAsks: Record<Level, readonly Skill[]> = {
  'first-day': [],
  building: ['braking-point', 'turn-in'],
  steady: ['apex', 'exit', 'brake-release', 'throttle'],
}

/** Number of recent laps in which any safety mistake holds the level. (The old line says a count of mistakes; the constant counts laps.) */
const RECENT_LAPS = 10

/**
 * What the level above still asks of a student: skills that nobody confirmed so far, and a safety mistake in the last ten laps,
 * which holds the level where it is. A level is proposed, never taken by itself; `next` is null at the top.
 */
export const levelAhead = (
  now: Level,
  confirmed: ReadonlySet<Skill>,
  passes: readonly PassKnown[],
): { next: Level | null; missing: Skill[]; heldBy: MistakeCode | null } => {
  const laps = [...new Set(inOrder(passes).map((p) => `${p.run} ${p.lap}`))].slice(-RECENT_LAPS)
  const recent = passes.filter((p) => laps.includes(`${p.run} ${p.lap}`))
  const heldBy = recent.flatMap((p) => p.codes).find((code) => unsafe.has(code)) ?? null
  const next = levels[levels.indexOf(now) + 1] ?? null
  const asked = next === null ? [] : levels.slice(0, levels.indexOf(next) + 1).flatMap((level) => levelAsks[level])
  return { next, missing: asked.filter((skill) => !confirmed.has(skill)), heldBy }
}
