import type { Briefing, DayPlan, Question } from '@ochote/contract'
import {
  type ConeScheme,
  type Corner,
  type CornerMetrics,
  cornerOf,
  formatDistance,
  formatLapTime,
  formatSpeed,
  isConeKind,
  type Level,
  type Mark,
  markOf,
  nearestReference,
  type Plan,
  paces,
  type SharedGroup,
  signedDistance,
  type UnitSystem,
} from '@ochote/core'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { cornerIn, referenceIn } from '../../shared/language/corner-in-words.ts'
import type { StudentWords } from '../../shared/language/student-words.ts'

/** One page of the briefing: one message, made from the plan. */
export type BriefPage =
  | { kind: 'lines'; id: string; title: string; lines: readonly string[]; tone?: 'safety' }
  | { kind: 'flags'; id: string; title: string; flags: DayPlan['flags'] }
  | { kind: 'cones'; id: string; title: string; scheme: ConeScheme }
  | { kind: 'circuit'; id: string; title: string; lines: readonly string[] }
  | { kind: 'sighting'; id: string; title: string }
  | {
      kind: 'corner'
      id: string
      title: string
      corner: Corner
      marks: readonly Mark[]
      line: string
      facts: string
      /** Advice about traffic there, which the projector shows on a page of its own. */
      tip: string | null
      /** What to do where brakes that come a second late would not stop in time. */
      cure: string | null
    }
  | { kind: 'questions'; id: string; title: string; asked: readonly { where: string; text: string; answer: string }[] }
  | { kind: 'links'; id: string; title: string; line: string; links: readonly OwnLink[] }
  | { kind: 'own'; id: string; title: string; text: string }

/** Where a student's own page is, in an address that phones can open. */
export type OwnLink = { name: string; address: string }
/** Squares on one page that a phone still reads from the third row. */
const LINKS_ON_A_PAGE = 8

/** Input for the pages. `numbers`, `wet` and `byPace` come later than the plan and are left out until then. */
export type BriefSource = {
  plan: Plan
  day: DayPlan | undefined
  scheme: ConeScheme
  words: StudentWords
  units: UnitSystem
  cornerTips: Readonly<Record<string, string>>
  questions: readonly Question[]
  /** Own pages of the day's students; none where phones cannot open this server. */
  links?: readonly OwnLink[]
  /** Cones that several share, with what each makes of them. */
  shared?: readonly SharedGroup[]
  numbers?: readonly CornerMetrics[] | undefined
  /** The same plan on a wet road. */
  wet?: Plan | undefined
  /** The same plan at each pace step of the day. */
  byPace?: readonly Plan[] | undefined
}

/** Ends the id of a page that belongs to a corner's. */
const BESIDES = '-besides'
/** True for a page that says what a corner's own page leaves out; paper has room for both on one. */
export const isBesides = (page: BriefPage): boolean => page.id.endsWith(BESIDES)
/** A wait shorter than this is none (s). */
export const MIN_WAIT_S = 0.15

const shown = (lines: readonly string[]): string[] => lines.map((l) => l.trim()).filter(Boolean)

/** All pages in the order in which they are told: safety and the venue's rules first. */
export const briefPages = (source: BriefSource): BriefPage[] => {
  const { plan, day, scheme, words, cornerTips, questions, numbers } = source
  const { titles } = words
  const briefing = day?.briefing
  const lines = (id: string, title: string, list: readonly string[], tone?: 'safety'): BriefPage[] =>
    list.length > 0 ? [{ kind: 'lines', id, title, lines: list, ...(tone ? { tone } : {}) }] : []
  return [
    ...lines('safety', titles.safety, words.safety, 'safety'),
    ...lines('rules', titles.rules(day?.venue || plan.circuit.name), shown(day?.rules ?? []), 'safety'),
    ...lines('wrong', titles.wrong, words.wrong, 'safety'),
    ...(day && day.flags.length > 0 ? [{ kind: 'flags' as const, id: 'flags', title: titles.flags, flags: day.flags }] : []),
    ...lines('pits', titles.pits, shown(briefing?.pits ?? [])),
    ...lines('passing', titles.passing, shown(briefing?.passing ?? []), 'safety'),
    ...lines('signals', titles.signals, [...words.signals, ...shown(briefing?.signals ?? [])]),
    ...lines('radio', titles.radio, [...words.radio, ...shown(briefing?.radio ?? [])]),
    { kind: 'cones', id: 'cones', title: titles.cones, scheme },
    ...lines('car', titles.car(plan.vehicle.name), shown(briefing?.controls[plan.vehicle.id] ?? [])),
    circuitPage(source),
    { kind: 'sighting', id: 'sighting', title: titles.sighting },
    ...plan.corners.flatMap((corner) => cornerPages(source, corner, numbers, cornerTips[corner.id])),
    ...lines('wet', titles.wet, [...wetLines(source), ...words.wet, ...shown(briefing?.wet ?? [])]),
    ...lines('paces', titles.paces, paceLines(source)),
    ...(questions.some((q) => q.answer !== '') ? [questionPage(source)] : []),
    ...linkPages(source),
    ...(briefing?.own ?? []).map(({ id, title, text }): BriefPage => ({ kind: 'own', id, title, text })),
  ]
}

const circuitPage = ({ plan, words, units, numbers }: BriefSource): BriefPage => {
  const { circuit, corners, profile, settings } = plan
  const heights = Array.from(circuit.z_m)
  const widths = Array.from(circuit.widthLeft_m, (w, i) => w + circuit.widthRight_m[i])
  const min = Math.min(...widths)
  const max = Math.max(...widths)
  const distance = (m: number): string => formatDistance(m, units)
  const width = max - min < 0.5 ? distance(min) : `${distance(min)} – ${distance(max)}`
  const dearest = [...(numbers ?? [])].sort((a, b) => a.worth.rank - b.worth.rank).slice(0, 3)
  return {
    kind: 'circuit',
    id: 'circuit',
    title: circuit.name,
    lines: [
      words.circuit(distance(circuit.length_m), width, distance(Math.max(...heights) - Math.min(...heights)), corners.length),
      words.today(words.surfaces[settings.surface], Math.round(settings.pace * 100), formatSpeed(Math.max(...profile.speed_mps), units)),
      ...(dearest.length > 0 ? [words.important(dearest.flatMap((n) => cornerOf(corners, n.cornerId)?.name ?? []).join(', '))] : []),
    ],
  }
}

/** A corner's marks and drawing on one page; what concerns traffic and other cars, where there is such, on the next. */
const cornerPages = (
  { plan, scheme, words, units, shared }: BriefSource,
  corner: Corner,
  numbers: readonly CornerMetrics[] | undefined,
  tip: string | undefined,
): BriefPage[] => {
  const ofCorner = numbers?.find((n) => n.cornerId === corner.id)
  const turnIn = markOf(plan.marks, corner.id, 'turn-in')
  const brake = markOf(plan.marks, corner.id, 'brake') ?? turnIn
  const linked = cornerOf(plan.corners, markOf(plan.marks, corner.id, 'brake')?.beforeApexOf)
  const reference = brake ? nearestReference(plan.ground, brake.station_m, plan.circuit.length_m, 60) : null
  const facts = [
    ...(turnIn && plan.vehicle.gears.length > 1 ? [words.gear(turnIn.gear)] : []),
    ...(reference && brake ? [`${words.marks[brake.kind]} ${referenceIn(words, units, reference)}`] : []),
    ...(ofCorner ? [words.purposes[ofCorner.worth.purpose]] : []),
    ...(linked ? [words.beforeApex(linked.name)] : []),
  ]
  const waits = (shared?.find((g) => g.cornerId === corner.id && g.kind === 'brake')?.audience ?? []).filter(
    (f) => (f.wait_s ?? 0) >= MIN_WAIT_S,
  )
  const besides = [
    ...waits.map((f) => `${f.label}: ${words.wait((f.wait_s ?? 0).toFixed(1))}`),
    ...(tip?.trim() ? [words.traffic(tip.trim())] : []),
  ]
  const page: BriefPage = {
    kind: 'corner',
    id: corner.id,
    title: cornerLabel(corner),
    corner,
    marks: plan.marks.filter((m) => m.cornerId === corner.id && isConeKind(m.kind) && scheme.rules[m.kind] !== undefined),
    line: cornerIn(words, units, corner),
    facts: facts.join(' · '),
    tip: tip?.trim() ? words.traffic(tip.trim()) : null,
    cure: cureInWords(ofCorner?.straightOn?.mitigation, words, units),
  }
  return besides.length === 0
    ? [page]
    : [page, { kind: 'lines', id: `${corner.id}${BESIDES}`, title: words.besides(corner.name), lines: besides }]
}

const cureInWords = (
  cure: { brakeEarlier_m: number | null; pace: number | null } | null | undefined,
  words: StudentWords,
  units: UnitSystem,
): string | null =>
  cure
    ? words.noRoom(
        cure.brakeEarlier_m === null ? null : formatDistance(cure.brakeEarlier_m, units),
        cure.pace === null ? null : Math.round(100 * cure.pace),
      )
    : null

/** The corner whose brake point moves most in the wet. */
const wetLines = ({ plan, wet, words, units }: BriefSource): string[] => {
  if (!wet) return []
  const shifts = plan.corners.flatMap((corner) => {
    const [dry, rain] = [markOf(plan.marks, corner.id, 'brake'), markOf(wet.marks, corner.id, 'brake')]
    return dry && rain ? [{ corner, shift_m: signedDistance(rain.station_m, dry.station_m, plan.circuit.length_m) }] : []
  })
  const max = shifts.sort((a, b) => b.shift_m - a.shift_m)[0]
  return max && max.shift_m > 1 ? [words.wetBrake(formatDistance(max.shift_m, units), max.corner.name)] : []
}

const paceLines = ({ byPace, words }: BriefSource): string[] =>
  (byPace ?? []).map(({ settings, profile }) => {
    const name = (Object.entries(paces) as [keyof typeof paces, number][]).find(([, value]) => value === settings.pace)?.[0]
    const share = Math.round(settings.pace * 100)
    return words.pace(name ? words.paceNames[name] : `${share}%`, share, formatLapTime(profile.lapTime_s, 0))
  })

const questionPage = ({ plan, questions, words }: BriefSource): BriefPage => ({
  kind: 'questions',
  id: 'questions',
  title: words.titles.questions,
  asked: questions
    .filter((q) => q.answer !== '')
    .map(({ cornerId, text, answer }) => {
      const corner = cornerOf(plan.corners, cornerId)
      return { where: corner ? cornerLabel(corner) : '', text, answer }
    })
    .slice(-4),
})

const linkPages = ({ words, links = [] }: BriefSource): BriefPage[] =>
  Array.from({ length: Math.ceil(links.length / LINKS_ON_A_PAGE) }, (_, k) => ({
    kind: 'links',
    id: k === 0 ? 'links' : `links-${k + 1}`,
    title: words.titles.links,
    line: words.ownPage,
    links: links.slice(k * LINKS_ON_A_PAGE, (k + 1) * LINKS_ON_A_PAGE),
  }))

/** Pages in the order that was chosen: those that were moved stand where they were put, the others keep their own places. */
export const inOrder = (pages: readonly BriefPage[], order: readonly string[]): BriefPage[] => {
  const chosen = order.filter((id) => pages.some((p) => p.id === id))
  if (chosen.length === 0) return [...pages]
  const rest = pages.filter((p) => !chosen.includes(p.id))
  const out = chosen.flatMap((id) => pages.find((p) => p.id === id) ?? [])
  // A page that was not there when the order was chosen goes behind the one that it follows by itself.
  for (const page of rest) {
    const before = pages.slice(0, pages.indexOf(page)).findLast((p) => out.includes(p))
    out.splice(before ? out.indexOf(before) + 1 : 0, 0, page)
  }
  return out
}

/** The pages that are told to a level (null: to everybody), in their order, without hidden ones. */
export const pagesFor = (pages: readonly BriefPage[], briefing: Briefing | undefined, level: Level | null): BriefPage[] =>
  inOrder(pages, briefing?.order ?? []).filter(
    (p) => !briefing?.hidden.includes(p.id) && (level === null || !briefing?.levels[p.id]?.length || briefing.levels[p.id].includes(level)),
  )

/** Ids in a briefing's choices that belong to no page any more, like those of corners that were removed. */
export const strayPages = (pages: readonly BriefPage[], briefing: Briefing): string[] => {
  const ids = new Set(pages.map((p) => p.id))
  // Pages that come and go with what the school entered are missed by nobody.
  const passing = new Set(['rules', 'flags', 'pits', 'passing', 'car', 'wet', 'paces', 'questions'])
  const used = [...briefing.order, ...briefing.hidden, ...Object.keys(briefing.levels), ...Object.keys(briefing.notes)]
  return [...new Set(used)].filter((id) => !ids.has(id) && !passing.has(id) && !id.startsWith('links') && !id.endsWith(BESIDES))
}
