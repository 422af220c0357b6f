import { isKnown, type RecallMark, type RecallRound, recallGaps } from '@ochote/core'
import { inside, say } from '../language/say.ts'
import { metres } from '../language/staff-units.ts'

const actionWords: Record<RecallMark['action'], string> = {
  brake: say`Brake`,
  release: say`Off the brake`,
  'turn-in': say`Turn-in`,
  throttle: say`Throttle`,
}

/** How something was met that was driven from memory: “brake 0.4 s late, 16 m”. */
export const metInWords = ({ action, off_s, off_m }: RecallMark): string => {
  const name = inside(actionWords[action])
  if (off_s === null || off_m === null) return say`${name} not known`
  const by = Math.abs(off_s).toFixed(1)
  return off_s < 0 ? say`${name} ${by} s early, ${metres(Math.abs(off_m))}` : say`${name} ${by} s late, ${metres(Math.abs(off_m))}`
}

/** What is still to be learned of a lap driven from memory, corner by corner; empty where nothing is. */
export const memoryGapsInWords = (rounds: readonly RecallRound[], nameOf: (cornerId: string) => string): string =>
  recallGaps(rounds)
    .map(({ cornerId, marks }) => `${nameOf(cornerId)}: ${marks.map(metInWords).join(', ')}`)
    .join('; ')

/** How much of the last round with eyes open was known. */
export const lastRoundInWords = (rounds: readonly RecallRound[]): string => {
  const last = rounds.findLast((r) => r.mode !== 'closed')
  return last ? say`${last.marks.filter((m) => isKnown(m, last.mode)).length} of ${last.marks.length} known` : say`not driven`
}
