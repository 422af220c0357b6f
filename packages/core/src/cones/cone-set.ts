import type { CallSheet } from '../calls/call-sheet.ts'
import { type CallWork, callsFor, callWishesOf, type Listener } from '../calls/day-calls.ts'
import type { PhraseBook } from '../calls/phrases.ts'
import { type CornerMetrics, cornerMetrics } from '../corner-numbers/corner-metrics.ts'
import type { PlanChoice } from '../day/day.ts'
import { type Level, levelReaction_s, levels } from '../day/level.ts'
import type { LineMethod } from '../line/line-method.ts'
import type { Plan } from '../plan/plan.ts'
import { levelName } from '../words/words.ts'
import { checkScheme, type SameView, type SchemeProblem, sameViews } from './check-scheme.ts'
import { type ConeConflict, coneConflicts } from './conflicts.ts'
import { conesForLevel, type Fading, fadeCones, hasFaded } from './fading.ts'
import { type HiddenMark, hiddenMarks } from './hidden.ts'
import { type LayingRow, layingSheet } from './laying.ts'
import { type Cone, type ConeEdits, lineInUse, placeCones, type Unplaced } from './placement.ts'
import { type ConeColour, type ConeScheme, coneSchemes } from './scheme.ts'
import { type Audience, type SharedGroup, shareCones } from './share.ts'
import { type ConeStock, type DroppedGroup, fitStock } from './stock.ts'

/** People's decisions about the cones of a day: audience, clearance, stock, fading, and what was moved or locked by hand. */
export type ConeWork = ConeEdits & {
  /** The layout on which cones were moved and locked; not known for days that were kept before this was. */
  handsOn?: string | undefined
  level: Level
  /** Others who drive to the same cones. */
  served: readonly { vehicleId: string; level: Level; pace: number }[]
  /** Lines that are driven beside the plan's own, like the wet one. */
  lines: readonly LineMethod[]
  clearance_m: number
  useStock: boolean
  fade: boolean
}

/**
 * The work on the cones as it holds for a layout: a place that a hand chose on another one means nothing here. `made`: the layout on which
 * it was chosen, where the work does not say so.
 */
export const coneWorkOn = <W extends ConeWork>(work: W, circuitId: string, made: string): W =>
  (work.handsOn ?? made) === circuitId ? work : { ...work, nudges: {}, locks: {} }

/** The school's side of a cone set: schemes (its own first), stock, colours reserved for pits and hazards. */
export type ConesOfSchool = { schemes: readonly ConeScheme[]; stock: ConeStock; reserved: readonly ConeColour[] }

/** The cones of a day: what is laid, what is left out and why, and whom each serves. */
export type ConeSet = {
  scheme: ConeScheme
  cones: Cone[]
  sheet: LayingRow[]
  unplaced: Unplaced[]
  dropped: DroppedGroup[]
  shared: SharedGroup[]
  fadings: Fading[]
  faded: Fading[]
  views: SameView[]
  problems: SchemeProblem[]
  /** Marks in sight too late, with what helps. */
  hidden: HiddenMark[]
  /** Cones at places where they mislead, and what was done about it. */
  conflicts: ConeConflict[]
  /** The least experienced level that these cones serve. */
  least: Level
}

/** The scheme of an id; the first ready-made one where the id is not known. */
export const schemeOf = (schemes: readonly ConeScheme[], schemeId: string | undefined): ConeScheme =>
  schemes.find((s) => s.id === schemeId) ?? coneSchemes[0]

/** Input for a set of cones. `served[k]` is the plan of `work.served[k]`; all plans are of one circuit. */
export type ConeSetInput = {
  plan: Plan
  schemeId: string
  school: ConesOfSchool
  work: ConeWork
  numbers: readonly CornerMetrics[] | undefined
  served: readonly Plan[]
  lines: readonly Plan[]
  /** The calls of the day, one sheet per wish of its students. */
  sheets: readonly CallSheet[]
}

/**
 * The cones of a day: placed for everyone served, clear of all lines in use, nudged and locked by hand, faded out by level,
 * fitted to the stock. The one answer to "which cones are out today" for pages, quiz, server and command line. Pure.
 */
export const coneSetOf = ({ plan, schemeId, school, work, numbers, served, lines, sheets }: ConeSetInput): ConeSet => {
  const scheme = schemeOf(school.schemes, schemeId)
  const reaction_s = levelReaction_s[work.level]
  const sight = numbers?.flatMap((n) => n.sight) ?? []
  const audience = audienceOf(plan, work, served)
  const shared = served.length > 0 ? shareCones(audience, scheme) : []
  const { cones: placed, unplaced } = placeCones(plan, scheme, {
    reaction_s,
    clearance_m: work.clearance_m,
    lines: [...served, ...lines].map(lineInUse),
    shared: Object.fromEntries(shared.map((s) => [s.groupId, s.station_m])),
    sight,
    edits: work,
  })
  const fadings = fadeCones(plan, placed)
  const min = leastLevel([work.level, ...work.served.map((s) => s.level)])
  const standing = work.fade ? conesForLevel(placed, fadings, min) : placed
  const { cones, dropped } = work.useStock ? fitStock(standing, school.stock, numbers ?? []) : { cones: standing, dropped: [] }
  return {
    scheme,
    cones,
    sheet: layingSheet(plan, cones),
    unplaced,
    dropped,
    shared,
    fadings,
    faded: work.fade ? fadings.filter((f) => hasFaded(f, min)) : [],
    views: sameViews(cones, plan.circuit.length_m),
    problems: checkScheme(scheme, school.reserved),
    hidden: hiddenMarks(plan, sight, cones, sheets),
    conflicts: coneConflicts(plan, cones, sheets, reaction_s),
    least: min,
  }
}

/** Everyone whom the cones serve: the day's own plan first. */
const audienceOf = (plan: Plan, work: ConeWork, served: readonly Plan[]): Audience[] =>
  [{ plan, level: work.level }, ...served.map((other, k) => ({ plan: other, level: work.served[k].level }))].map((group) => ({
    label: `${levelName(group.level)}, ${group.plan.vehicle.name}`,
    plan: group.plan,
    reaction_s: levelReaction_s[group.level],
  }))

const leastLevel = (all: readonly Level[]): Level => all.reduce((a, b) => (levels.indexOf(b) < levels.indexOf(a) ? b : a))

/** A day and its school as far as cones and calls go. */
export type ConesOfDay = {
  day: { settings: PlanChoice; cones: ConeWork; calls: CallWork }
  school: ConesOfSchool & { books: readonly PhraseBook[] }
  students: readonly Listener[]
}

/** The cone set of a stored day where plans can be computed on the spot. `planFor` makes (or finds) the plan of some settings. */
export const coneSetOfDay = ({ day, school, students }: ConesOfDay, planFor: (settings: PlanChoice) => Plan): ConeSet => {
  const { settings, cones: work, calls } = day
  const plan = planFor(settings)
  const numbers = cornerMetrics(plan)
  return coneSetOf({
    plan,
    schemeId: settings.schemeId,
    school,
    work: coneWorkOn(work, settings.circuitId, settings.circuitId),
    numbers,
    served: work.served.map(({ vehicleId, pace }) => planFor({ ...settings, vehicleId, pace })),
    lines: work.lines.map((method) => planFor({ ...settings, method })),
    sheets: callWishesOf(students).map((wish) => callsFor({ plan, books: school.books, work: calls, numbers }, wish).sheet),
  })
}
