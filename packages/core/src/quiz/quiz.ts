import { nearestReference } from '../circuit/nearest-reference.ts'
import { placeOn } from '../circuit/place.ts'
import { signedDistance, wrapStation } from '../circuit/station.ts'
import type { Cone } from '../cones/placement.ts'
import type { ConeKind, ConeRule, ConeScheme } from '../cones/scheme.ts'
import type { DayFlag } from '../day/day.ts'
import { type Mark, markOf } from '../marks/mark.ts'
import type { Plan } from '../plan/plan.ts'
import { overdueBy } from '../recall/index.ts'
import { seedOf } from '../simulate/habits.ts'
import { type Random, seededRandom } from '../units/random.ts'

/** Emergencies: each has one right thing to do first. */
export const emergencies = ['missed-brake', 'locked-wheel', 'going-off', 'hand-on-wheel'] as const
export type Emergency = (typeof emergencies)[number]

/** The first action in each emergency. */
const firstActions = {
  'missed-brake': 'straighten',
  'locked-wheel': 'ease',
  'going-off': 'wheel-straight',
  'hand-on-wheel': 'hands-still',
} as const satisfies Record<Emergency, string>
export type FirstAction = (typeof firstActions)[Emergency]

/** One of the answers that are offered, as data; the words for it are the page's. */
export type QuizChoice =
  | { kind: 'cone'; rule: Pick<ConeRule, 'colour' | 'shape' | 'count'> }
  | { kind: 'meaning'; cone: ConeKind }
  | { kind: 'flag'; name: string }
  | { kind: 'corner'; cornerId: string }
  | { kind: 'gear'; gear: number }
  | { kind: 'reference'; name: string }
  | { kind: 'action'; action: FirstAction }

/** Topics of questions. */
type QuizTopic =
  | { topic: 'first-cone'; cornerId: string }
  | { topic: 'cone-meaning'; rule: Pick<ConeRule, 'colour' | 'shape' | 'count'> }
  | { topic: 'flag'; meaning: string }
  | { topic: 'next-corner'; cornerId: string }
  | { topic: 'gear'; cornerId: string }
  | { topic: 'reference'; cornerId: string }
  | { topic: 'emergency'; emergency: Emergency }
  | { topic: 'order'; cornerIds: readonly string[] }
  | { topic: 'place'; cornerId: string; mark: Mark['kind'] }

/** A corner drawn without marks: edges of the road as x, y pairs (m), to be tapped on. */
export type QuizPicture = { left: number[]; right: number[]; travel: number[] }

/** A question without its answer, as it goes to a phone. `form`: choose one, put in order, or tap a place. */
export type QuizQuestion = QuizTopic & {
  id: string
  form: 'choose' | 'order' | 'place'
  choices: QuizChoice[]
  picture: QuizPicture | null
}

/** An answer: the number of a choice, choices in order, or a place on the picture. */
export type QuizAnswer =
  | { form: 'choose'; choice: number }
  | { form: 'order'; order: number[] }
  | { form: 'place'; x_m: number; y_m: number }

/** The right answer, which stays with the asker. `off_m`: distance along the road of a tapped place from the right one. */
type QuizKey =
  | { form: 'choose'; choice: number }
  | { form: 'order'; order: readonly number[] }
  | { form: 'place'; station_m: number; within_m: number }
/** A question with its key and the corner it is about. */
export type KeyedQuestion = { question: QuizQuestion; key: QuizKey; cornerId: string | null; safety: boolean }

/** Input for a quiz. */
export type QuizSource = {
  plan: Plan
  scheme: ConeScheme
  cones: readonly Cone[]
  flags: readonly DayFlag[]
}

/** Number of answers offered per question. */
const CHOICES = 4
/** A tapped place is right within this distance along the road (m). */
const PLACE_WITHIN_M = 15
/** A picture reaches this far before the turn-in and behind the exit (m). */
const PICTURE_MARGIN_M = 70

/** `about`: the corner that it is about, if any. */
type Made = QuizTopic & Pick<QuizQuestion, 'form' | 'choices' | 'picture'> & { key: QuizKey; about: string | null; safety?: boolean }

const sameChoice = (a: QuizChoice, b: QuizChoice): boolean => JSON.stringify(a) === JSON.stringify(b)

/** Some of the others, in random order, never the same twice. */
const others = (random: Random, pool: readonly QuizChoice[], right: QuizChoice, count: number): QuizChoice[] => {
  const left = pool.filter((c, i) => !sameChoice(c, right) && pool.findIndex((o) => sameChoice(o, c)) === i)
  return shuffled(random, left).slice(0, count)
}

const shuffled = <T>(random: Random, list: readonly T[]): T[] => {
  const out = [...list]
  for (let i = out.length - 1; i > 0; i--) {
    const j = Math.floor(random.uniform() * (i + 1))
    ;[out[i], out[j]] = [out[j], out[i]]
  }
  return out
}

/** A question with one right choice among up to four in random order; null where there is nothing else to offer. */
const choose = (
  random: Random,
  topic: QuizTopic,
  right: QuizChoice,
  pool: readonly QuizChoice[],
  about: string | null,
  safety = false,
): Made | null => {
  const wrong = others(random, pool, right, CHOICES - 1)
  if (wrong.length === 0) return null
  const choices = shuffled(random, [right, ...wrong])
  return { ...topic, form: 'choose', choices, picture: null, key: { form: 'choose', choice: choices.indexOf(right) }, about, safety }
}

/**
 * All questions that a plan, its cones and its flags give. The same seed gives the same questions in the same words; the
 * order of choices depends on the seed and the question alone, so that it tells nothing.
 */
export const makeQuiz = (source: QuizSource, seed: number): KeyedQuestion[] => {
  const { plan, flags } = source
  const makers: Maker[] = [
    ...emergenciesAsked(),
    ...flags.map(
      (flag): Maker => [
        `flag ${flag.name}`,
        (r) =>
          choose(
            r,
            { topic: 'flag', meaning: flag.meaning },
            { kind: 'flag', name: flag.name },
            flags.map((f) => ({ kind: 'flag' as const, name: f.name })),
            null,
            true,
          ),
      ],
    ),
    ...meaningsAsked(source),
    ...plan.corners.flatMap((_, k) => cornerAsked(source, k)),
  ]
  return makers.flatMap(([id, make]) => {
    const made = make(seededRandom(seed ^ seedOf(id)))
    if (!made) return []
    const { key, about, safety = false, ...question } = made
    return [{ question: { id, ...question }, key, cornerId: about, safety }]
  })
}

const emergenciesAsked = (): Maker[] =>
  emergencies.map((emergency) => [
    `emergency ${emergency}`,
    (r) =>
      choose(
        r,
        { topic: 'emergency', emergency },
        { kind: 'action', action: firstActions[emergency] },
        emergencies.map((e) => ({ kind: 'action' as const, action: firstActions[e] })),
        null,
        true,
      ),
  ])

const look = ({ colour, shape, count }: ConeRule): Pick<ConeRule, 'colour' | 'shape' | 'count'> => ({ colour, shape, count })

const meaningsAsked = ({ scheme }: QuizSource): Maker[] => {
  const rules = Object.entries(scheme.rules) as [ConeKind, ConeRule][]
  return rules.map(([kind, rule]) => [
    `meaning ${kind}`,
    (r) =>
      choose(
        r,
        { topic: 'cone-meaning', rule: look(rule) },
        { kind: 'meaning', cone: kind },
        rules.map(([cone]) => ({ kind: 'meaning' as const, cone })),
        null,
      ),
  ])
}

/** A question with the id that its random order hangs on; null where there is nothing to choose from. */
type Maker = [id: string, make: (random: Random) => Made | null]

/** All questions about one corner. */
const cornerAsked = (source: QuizSource, k: number): Maker[] => [
  ...firstConeAsked(source, k),
  ...nextCornerAsked(source, k),
  ...gearAsked(source, k),
  ...referenceAsked(source, k),
  ...orderAsked(source, k),
  ...placesAsked(source, k),
]

const firstConeAsked = ({ plan, scheme, cones }: QuizSource, k: number): Maker[] => {
  const { id, peak_m } = plan.corners[k]
  const fromPeak = (cone: Cone): number => signedDistance(peak_m, cone.station_m, plan.circuit.length_m)
  const [first] = cones.filter((c) => c.cornerId === id && c.kind !== 'sighter').sort((a, b) => fromPeak(a) - fromPeak(b))
  const firstRule = first && scheme.rules[first.kind]
  if (!firstRule) return []
  const shown = (rule: ConeRule): QuizChoice => ({ kind: 'cone', rule: look(rule) })
  const all = Object.values(scheme.rules) as ConeRule[]
  return [[`first-cone ${id}`, (r) => choose(r, { topic: 'first-cone', cornerId: id }, shown(firstRule), all.map(shown), id)]]
}

const nextCornerAsked = ({ plan: { corners } }: QuizSource, k: number): Maker[] => {
  if (corners.length < 3) return []
  const { id } = corners[k]
  const choice = ({ id: cornerId }: { id: string }): QuizChoice => ({ kind: 'corner', cornerId })
  const others = corners.filter((c) => c.id !== id)
  const next = choice(corners[(k + 1) % corners.length])
  return [[`next-corner ${id}`, (r) => choose(r, { topic: 'next-corner', cornerId: id }, next, others.map(choice), id)]]
}

const gearAsked = ({ plan: { corners, marks, vehicle } }: QuizSource, k: number): Maker[] => {
  const { id } = corners[k]
  const turnIn = markOf(marks, id, 'turn-in')
  if (!turnIn || vehicle.gears.length < 3) return []
  const choice = (gear: number): QuizChoice => ({ kind: 'gear', gear })
  const all = vehicle.gears.map((_, i) => choice(i + 1))
  return [[`gear ${id}`, (r) => choose(r, { topic: 'gear', cornerId: id }, choice(turnIn.gear), all, id)]]
}

/** Distance from the brake mark within which a landmark is asked about (m). */
const LANDMARK_WITHIN_M = 40

const referenceAsked = ({ plan: { corners, marks, ground, circuit } }: QuizSource, k: number): Maker[] => {
  const { id } = corners[k]
  const brake = markOf(marks, id, 'brake')
  const near = brake ? nearestReference(ground, brake.station_m, circuit.length_m, LANDMARK_WITHIN_M) : null
  if (!near) return []
  const choice = ({ name }: { name: string }): QuizChoice => ({ kind: 'reference', name })
  const all = ground.filter((g) => g.kind === 'reference').map(choice)
  return [[`reference ${id}`, (r) => choose(r, { topic: 'reference', cornerId: id }, choice(near), all, id)]]
}

const orderAsked = ({ plan: { corners } }: QuizSource, k: number): Maker[] => {
  if (corners.length < 5) return []
  const { id } = corners[k]
  const make = (random: Random): Made => {
    const others = corners.map((_, i) => i).filter((i) => i !== k)
    const byTravel = [k, ...shuffled(random, others).slice(0, CHOICES - 1)].sort((a, b) => a - b)
    const shown = shuffled(random, byTravel)
    const cornerIds = shown.map((i) => corners[i].id)
    return {
      topic: 'order',
      cornerIds,
      form: 'order',
      choices: cornerIds.map((cornerId) => ({ kind: 'corner', cornerId })),
      picture: null,
      key: { form: 'order', order: byTravel.map((i) => shown.indexOf(i)) },
      about: id,
    }
  }
  return [[`order ${id}`, make]]
}

const placesAsked = ({ plan }: QuizSource, k: number): Maker[] => {
  const { id } = plan.corners[k]
  return (['turn-in', 'brake'] as const).flatMap((kind): Maker[] => {
    const mark = markOf(plan.marks, id, kind)
    if (!mark) return []
    const make = (random: Random): Made => ({
      topic: 'place',
      cornerId: id,
      mark: kind,
      form: 'place',
      choices: [],
      picture: cornerPicture(plan, k, random),
      key: { form: 'place', station_m: mark.station_m, within_m: PLACE_WITHIN_M },
      about: id,
    })
    return [[`place ${kind} ${id}`, make]]
  })
}

/** The road of a corner from before its first mark to behind its last, cut at random places, so that the frame tells nothing. */
const cornerPicture = ({ circuit, marks, corners }: Plan, k: number, random: Random): QuizPicture => {
  const corner = corners[k]
  const ofCorner = marks.filter((m) => m.cornerId === corner.id)
  const before_m = Math.max(0, ...ofCorner.map((m) => -signedDistance(corner.peak_m, m.station_m, circuit.length_m)))
  const behind_m = Math.max(0, ...ofCorner.map((m) => signedDistance(corner.peak_m, m.station_m, circuit.length_m)))
  const from_m = corner.peak_m - before_m - PICTURE_MARGIN_M * (0.4 + random.uniform())
  const length_m = before_m + behind_m + PICTURE_MARGIN_M * (1 + random.uniform())
  const steps = Math.max(2, Math.round(length_m / circuit.step_m / 2))
  const picture: QuizPicture = { left: [], right: [], travel: [] }
  for (let step = 0; step <= steps; step++) {
    const s_m = from_m + (length_m * step) / steps
    const i = Math.floor(wrapStation(s_m, circuit.length_m) / circuit.step_m) % circuit.count
    const [nx, ny] = [-Math.sin(circuit.heading_rad[i]), Math.cos(circuit.heading_rad[i])]
    const point = (offset_m: number): [number, number] => [
      Number((circuit.x_m[i] + nx * offset_m).toFixed(2)),
      Number((circuit.y_m[i] + ny * offset_m).toFixed(2)),
    ]
    picture.left.push(...point(circuit.widthLeft_m[i]))
    picture.right.push(...point(-circuit.widthRight_m[i]))
    picture.travel.push(...point(0))
  }
  return picture
}

/** Judges an answer; for a tapped place also gives its distance along the road (m, negative: before the place). */
export const judgeAnswer = (
  { key }: KeyedQuestion,
  answer: QuizAnswer,
  plan: Pick<Plan, 'circuit'>,
): { right: boolean; off_m: number | null } => {
  if (key.form === 'choose') return { right: answer.form === 'choose' && answer.choice === key.choice, off_m: null }
  if (key.form === 'order')
    return {
      right: answer.form === 'order' && answer.order.length === key.order.length && answer.order.every((c, i) => c === key.order[i]),
      off_m: null,
    }
  if (answer.form !== 'place') return { right: false, off_m: null }
  const { station_m } = placeOn(plan.circuit, answer.x_m, answer.y_m)
  const off_m = signedDistance(key.station_m, station_m, plan.circuit.length_m)
  return { right: Math.abs(off_m) <= key.within_m, off_m }
}

/** One question that was answered, in order of time. */
export type QuizHistory = readonly { questionId: string; cornerId: string | null; right: boolean }[]

/** Of new questions about no corner so many are asked before the next corner's turn. */
const AT_ONCE = 2

/**
 * The questions to ask next: those due again first, the most overdue before all; then new ones, by turns: two about
 * safety, two about cones, one about each corner, and round again.
 */
export const nextQuestions = (pool: readonly KeyedQuestion[], history: QuizHistory, count: number): KeyedQuestion[] => {
  const turns = new Map<string, number>()
  const seen = history.map(({ questionId, right }) => ({ id: questionId, right }))
  const ranked = pool.map((keyed, order) => {
    const about = keyed.cornerId ?? (keyed.safety ? 'safety' : 'cones')
    const turn = turns.get(about) ?? 0
    turns.set(about, turn + 1)
    const overdue = overdueBy(keyed.question.id, seen)
    if (overdue === null) return { keyed, rank: 1000 + (keyed.cornerId === null ? Math.floor(turn / AT_ONCE) : turn) + order * 1e-4 }
    return { keyed, rank: overdue > 0 ? -overdue : 2000 - overdue }
  })
  return ranked
    .sort((a, b) => a.rank - b.rank)
    .slice(0, count)
    .map((r) => r.keyed)
}

/** Gaps in somebody's knowledge: questions whose last answer was wrong, by corner (null: flags, cones, emergencies). */
export const quizGaps = (history: QuizHistory): { cornerId: string | null; questionIds: string[] }[] => {
  const last = new Map(history.map((h) => [h.questionId, h]))
  const gaps = new Map<string | null, string[]>()
  for (const { questionId, cornerId, right } of last.values()) if (!right) gaps.set(cornerId, [...(gaps.get(cornerId) ?? []), questionId])
  return [...gaps].map(([cornerId, questionIds]) => ({ cornerId, questionIds }))
}
