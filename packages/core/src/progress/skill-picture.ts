import { mistakes, type Skill, skills } from '../mistakes/mistakes.ts'
import { type Share, shareOf } from './estimate.ts'
import type { PassKnown } from './passes.ts'

/** One corner and one skill over the runs: shares of passes with a mistake of that skill, run by run. */
export type SkillCell = { cornerId: string; skill: Skill; runs: { run: number; missed: Share }[]; missed: Share }

/**
 * Corner × skill over the runs, for skills of which anything was missed anywhere. Passes that nobody but the seat watched
 * count only where something was said of them. Linear in passes × skills.
 */
export const skillPicture = (passes: readonly PassKnown[]): { cornerIds: string[]; skills: Skill[]; cells: SkillCell[] } => {
  const cornerIds = [...new Set(passes.map((p) => p.cornerId))].sort((a, b) => a.localeCompare(b, undefined, { numeric: true }))
  const missedSkills = new Set(passes.flatMap((p) => p.codes.map((code) => mistakes[code].skill)))
  const shown = skills.filter((skill) => missedSkills.has(skill))
  const share = (list: readonly PassKnown[], skill: Skill): Share =>
    shareOf(list.filter((p) => p.codes.some((code) => mistakes[code].skill === skill)).length, list.length)
  const cells = cornerIds.flatMap((cornerId) => {
    const here = passes.filter((p) => p.cornerId === cornerId)
    const runs = [...new Set(here.map((p) => p.run))].sort((a, b) => a - b)
    return shown.map((skill) => ({
      cornerId,
      skill,
      runs: runs.map((run) => ({
        run,
        missed: share(
          here.filter((p) => p.run === run),
          skill,
        ),
      })),
      missed: share(here, skill),
    }))
  })
  return { cornerIds, skills: shown, cells }
}
