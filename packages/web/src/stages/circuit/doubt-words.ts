import type { CircuitPreview } from '@ochote/contract'
import { say } from '../../language/say.ts'
import { fineMetres, metres } from '../../language/staff-units.ts'

type Doubt = CircuitPreview['doubts'][number]

const at = ({ at_m }: Doubt): string => (at_m === null ? '' : say` at ${metres(at_m)}`)

/** What is doubtful in a survey, and what to do about it. */
const words: Record<Doubt['kind'], { what: (d: Doubt) => string; remedy: string }> = {
  'few-points': {
    what: (d) => say`Only ${d.value} points a kilometre`,
    remedy: say`Corners between them are guessed. Log a few laps at ten positions a second, or draw the road over a picture.`,
  },
  gap: {
    what: (d) => say`${metres(d.value)} without a point${at(d)}`,
    remedy: say`The road between is a guess. Survey that part again, or average several logged laps.`,
  },
  'closing-gap': {
    what: (d) => say`${metres(d.value)} lie between the last point and the first`,
    remedy: say`They are joined by a curve. If the file ends early, survey the whole lap; if it is no lap, say “point to point”.`,
  },
  scatter: {
    what: (d) => say`Points scatter by about ${fineMetres(d.value)}`,
    remedy: say`It is smoothed out, but edges are no surer than that. Average several laps, and keep margins wide.`,
  },
  'no-heights': {
    what: () => say`No heights`,
    remedy: say`The road is taken as flat: crests, dips and what they hide are not seen. Use a file with heights where there is one.`,
  },
  steep: {
    what: (d) => say`A slope of ${d.value}%${at(d)}`,
    remedy: say`Few circuits are so steep. Look whether the heights are in metres, and whether one point is wrong.`,
  },
  'width-assumed': {
    what: (d) => say`Nobody measured the width: ${metres(d.value)} are assumed`,
    remedy: say`Enter the half width here, where somebody knows it; measure it where marks and cones matter.`,
  },
  'width-odd': {
    what: (d) => say`${metres(d.value)} wide${at(d)}`,
    remedy: say`Look whether left and right are half widths from the middle, in metres.`,
  },
  'width-jump': {
    what: (d) => say`The width jumps by ${metres(d.value)}${at(d)}`,
    remedy: say`Look at the widths there: a pit entry or a column in other units does this.`,
  },
  tight: {
    what: (d) => say`A bend of ${metres(d.value)} radius${at(d)}`,
    remedy: say`Tighter than most cars can turn. Look for a stray point there.`,
  },
  'length-odd': {
    what: (d) => say`${metres(d.value)} long`,
    remedy: say`Unusual for a circuit. Look whether the coordinates are metres or degrees, and whether the whole lap is in the file.`,
  },
}

/** One doubt in words, with its remedy. */
export const doubtInWords = (doubt: Doubt): { what: string; remedy: string } => ({
  what: words[doubt.kind].what(doubt),
  remedy: words[doubt.kind].remedy,
})
