import {
  type Cone,
  type Corner,
  distanceAhead,
  type IntoSight,
  type Mark,
  MIN_SIGHT_S,
  nearestReference,
  type Plan,
  sighterOf,
  VERGE_M,
} from '@ochote/core'
import { inside, say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { cornerLabel } from '../corner-card/corner-words.ts'
import { staffWords } from '../language/staff-words.ts'

/** Marks that somebody looks for. */
const lookedFor: readonly Mark['kind'][] = ['brake', 'turn-in', 'apex', 'exit']
/** A lasting reference this near to a mark stands for it (m). */
const BESIDE_M = 15
/** Later than this a mark is told to be hidden until then (s). */
const EARLY_S = 4

/** A mark with when it comes into sight, what lasting thing stands beside it, and the sighter that stands for it. */
export type SeenMark = { mark: Mark; sight: IntoSight; reference: string | null; sighter: SeenSighter | null }
type SeenSighter = { cone: Cone; time_s: number }

/** The marks to look for. */
export const marksToSee = (plan: Plan): Mark[] => plan.marks.filter((mark) => lookedFor.includes(mark.kind))

/** The marks to look for with what is known of them. `intoSight`: of every mark of the plan, in their order. */
export const seenMarks = (plan: Plan, intoSight: readonly IntoSight[], cones: readonly Cone[] = []): SeenMark[] =>
  marksToSee(plan).map((mark) => ({
    mark,
    sight: intoSight[plan.marks.indexOf(mark)],
    reference: nearestReference(plan.ground, mark.station_m, plan.circuit.length_m, BESIDE_M)?.name ?? null,
    sighter: sighterOf(plan, cones, mark.cornerId, mark.kind),
  }))

const named = (kind: Mark['kind']): string => staffWords.marks[kind]

/** What a sighter does for a hidden mark, as the end of a sentence about the mark. */
const sighterInWords = ({ circuit }: Plan, mark: Mark, { cone, time_s }: SeenSighter): string => {
  const before = metres(distanceAhead(cone.station_m, mark.station_m, circuit.length_m))
  return time_s >= MIN_SIGHT_S
    ? say`, announced by a sighter ${before} before it, which is in sight ${time_s.toFixed(0)} s ahead`
    : say`; the sighter ${before} before it is in sight only ${time_s.toFixed(1)} s ahead`
}

/** What a picture of a corner shows, in words: what hides and until when, and what to aim at. */
export const cornerFromSeat = (plan: Plan, corner: Corner, seen: readonly SeenMark[]): string => {
  const own = seen.filter(({ mark }) => mark.cornerId === corner.id)
  if (own.length === 0) return cornerLabel(corner)
  const late = own.filter(({ sight }) => !sight.throughout && sight.time_s < EARLY_S)
  const hidden = late.map(
    ({ mark, sight, sighter }) =>
      say`${inside(named(mark.kind))} hidden until ${metres(sight.before_m)} before` + (sighter ? sighterInWords(plan, mark, sighter) : ''),
  )
  const aims = own.flatMap(({ mark, reference }) => (reference ? [say`${inside(named(mark.kind))}: aim at ${reference}`] : []))
  const inSight = late.length === 0 ? [say`all its marks are in sight in good time`] : []
  return `${cornerLabel(corner)}: ${[...inSight, ...hidden, ...aims].join('; ')}.`
}

/** What the picture cannot show, because nobody measured it. */
export const unknownFromSeat = ({ circuit }: Plan): string[] => [
  ...(circuit.z_m.every((z) => z === circuit.z_m[0])
    ? [say`No heights are known: the road is drawn flat, and no crest can hide anything.`]
    : []),
  ...(circuit.widthAssumed ? [say`The width is assumed in places: edges there are not where they are drawn.`] : []),
  say`Land beside the road is taken to go on at the height of its edge, up to ${metres(VERGE_M)}; trees, buildings and stands are not drawn.`,
]
