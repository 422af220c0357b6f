import type { Intensity } from '../day/intensity.ts'
import type { Cue } from './cues.ts'
import { heaviestSet, type Span } from './heaviest-set.ts'
import type { CallKind, SpokenForm } from './phrases.ts'

/** Maximum number of calls in a corner and in a lap. */
export const intensityCaps: Record<Intensity, { perCorner: number; perLap: number }> = {
  quiet: { perCorner: 0, perLap: 0 },
  guided: { perCorner: 1, perLap: 16 },
  driven: { perCorner: 9, perLap: 140 },
}

/** `reaction_s`: what a student needs after the last word; `rate_wps`: words a second; `link_s`: delay of radio or 0. */
export type CallTiming = { reaction_s: number; rate_wps: number; link_s: number; gap_s: number }

/** Handbook values for an instructor beside the student, and over the radio. */
export const inCarTiming: CallTiming = { reaction_s: 0.8, rate_wps: 3.2, link_s: 0, gap_s: 0.3 }
export const radioTiming: CallTiming = { ...inCarTiming, link_s: 0.3 }

/** A change by hand to one call. `earlier_s`: said that much earlier; `locked`: said in any case, as it is. */
export type CallEdit = { earlier_s?: number | undefined; locked?: boolean | undefined; silent?: boolean | undefined }
/** Changes by hand: by `T3 brake`, and corners in which nothing is called. */
export type CallEdits = { calls: Readonly<Record<string, CallEdit>>; silentCorners: readonly string[] }
/** The name of a call among the hands; `nth` tells several of one kind for a corner apart. */
export const callKey = (cornerId: string, kind: string, nth = 0): string => `${cornerId} ${kind}${nth > 0 ? ` ${nth + 1}` : ''}`

/** A short phrase bound to a mark. Times are from the start line on the plan's lap (s); a start may lie before the line. */
export type Call = {
  key: string
  cornerId: string
  kind: CallKind
  phrase: string
  start_s: number
  end_s: number
  mark_s: number
  markStation_m: number
  worth: number
  locked: boolean
}

/** Why a call was left out. `no-time`: another, of more worth, is being said then (`against`). */
type DropReason = 'no-time' | 'corner-cap' | 'lap-cap' | 'silenced' | 'silent-corner'
export type DroppedCall = {
  key: string
  cornerId: string
  kind: CallKind
  reason: DropReason
  against: { cornerId: string; kind: CallKind } | null
}

/** The chosen calls in order of time, and the rest. */
export type CallSheet = { calls: Call[]; dropped: DroppedCall[] }

/** Worth of a call, in the order in which a miss hurts. */
const importance: Record<CallKind, number> = {
  brake: 10,
  lift: 7,
  'turn-in': 6,
  exit: 4,
  throttle: 3,
  release: 2.5,
  apex: 2,
  downshift: 1,
  upshift: 0.8,
  look: 1.2,
  side: 2,
  stay: 0.8,
  lane: 1.5,
  diagonal: 3,
  crest: 3.5,
  dip: 1.5,
  bump: 2,
  'off-camber': 3,
  kerb: 1.5,
  paint: 1.5,
  'soft-edge': 3,
  'standing-water': 8,
  pass: 0.5,
  'go-by': 0.4,
  roll: 5,
  'last-lap': 4,
  'pit-in': 9,
  parking: 5,
}
/** In the wet these are like ice. */
const icy: ReadonlySet<CallKind> = new Set(['kerb', 'paint'])
const ICY_FACTOR = 3
/** For somebody on a first day every gear is called before anything but the brake. */
const EVERY_GEAR = 9
/** Share of the worth that the long, short and one-word form carry: a shorter form says less. */
const formShare = [1, 0.9, 0.75] as const
/** Worth grows to this where a miss is dangerous: cones to brake by with little grace. */
const SAFETY_FACTOR = 1.5

/** A call's mark and timing. `missRate`: share of this student's recent runs in which the mark was missed, 0 … 1. */
export type CallOptions = {
  timing?: CallTiming
  edits?: CallEdits
  missRate?: (cornerId: string, kind: CallKind) => number
  /** Corners where a late brake is dangerous. */
  tight?: ReadonlySet<string>
  /** The surface is not dry. */
  wet?: boolean
  /** Every gear is called, as for somebody on a first day. */
  everyGear?: boolean
  /** The lap's time (s) where it closes. */
  lapTime_s?: number | null
}

const noEdits: CallEdits = { calls: {}, silentCorners: [] }

/** A cue with the forms of its phrase that can be said, longest first. */
export type SpokenCue = Cue & { forms: readonly SpokenForm[] }

/** What belongs to a lap counts to no corner. */
const ofLap: ReadonlySet<CallKind> = new Set(['last-lap', 'pit-in', 'parking'])
const groupOf = ({ kind, cornerId }: Pick<Cue, 'kind' | 'cornerId'>): string => (ofLap.has(kind) ? kind : cornerId)

type Wanted = { cue: SpokenCue; key: string; group: number; candidates: Call[] }

/**
 * The set of calls of greatest total worth in which no two overlap and each ends one reaction time (and the delay of the
 * link) before its mark, within the caps of an intensity. Worth = importance of the mark × this student's misses there ×
 * safety, less for shorter forms. Locked calls are said in any case, in the longest form; the others make room. Exact:
 * see {@link heaviestSet}.
 */
export const callSheet = (cues: readonly SpokenCue[], intensity: Intensity, options: CallOptions = {}): CallSheet => {
  const { timing = inCarTiming, edits = noEdits, lapTime_s = null } = options
  const groups = new Map<string, number>()
  for (const cue of cues) if (!groups.has(groupOf(cue))) groups.set(groupOf(cue), groups.size)
  const numberOf = (of: Pick<Cue, 'kind' | 'cornerId'>): number => groups.get(groupOf(of)) ?? 0
  const weighed = { ...options, timing, edits }
  const wanted: Wanted[] = cues
    .filter((cue) => cue.forms.length > 0)
    .map((cue) => ({
      cue,
      key: callKey(cue.cornerId, cue.kind, cue.nth),
      group: numberOf(cue),
      candidates: candidatesOf(cue, weighed),
    }))
  const said = (w: Wanted): boolean => !edits.calls[w.key]?.silent && !edits.silentCorners.includes(w.cue.cornerId)
  const { perCorner, perLap } = intensityCaps[intensity]
  const calls: Call[] = []
  if (intensity !== 'quiet') {
    const locked = keptApart(
      wanted.filter((w) => said(w) && edits.calls[w.key]?.locked).flatMap((w) => w.candidates.slice(0, 1)),
      timing.gap_s,
      lapTime_s,
    )
    const clear = (c: Call): boolean => locked.every((l) => !tooNear(l, c, timing.gap_s, lapTime_s))
    const free = wanted.filter((w) => said(w) && !locked.some((l) => l.key === w.key))
    const candidates = free.flatMap((w) => w.candidates.filter(clear).map((call) => ({ call, group: w.group })))
    const spans: Span[] = candidates.map(({ call, group }) => ({ start_s: call.start_s, end_s: call.end_s, worth: call.worth, group }))
    // Locked calls count to the caps of their corners; a corner whose cap they reach takes no more.
    const used = (group: number): number => locked.filter((l) => numberOf(l) === group).length
    const open = spans.map((s, i) => ({ s, i })).filter(({ s }) => used(s.group) < perCorner)
    const chosen = heaviestSet(
      open.map(({ s }) => s),
      { gap_s: timing.gap_s, period_s: lapTime_s, perGroup: perCorner, inAll: perLap - locked.length },
    )
    calls.push(...locked, ...chosen.map((k) => candidates[open[k].i].call))
    calls.sort((a, b) => a.end_s - b.end_s)
  }
  return { calls, dropped: droppedFrom(wanted, calls, { gap_s: timing.gap_s, lapTime_s, intensity, edits }) }
}

const worthOf = (
  { kind, cornerId, nth = 0 }: Cue,
  { missRate, tight, wet = false, everyGear = false }: Pick<CallOptions, 'missRate' | 'tight' | 'wet' | 'everyGear'>,
): number => {
  const gear = kind === 'downshift' || kind === 'upshift'
  const own = gear && everyGear ? EVERY_GEAR : wet && icy.has(kind) ? ICY_FACTOR * importance[kind] : importance[kind]
  const safety = (kind === 'brake' || kind === 'lift') && tight?.has(cornerId) ? SAFETY_FACTOR : 1
  // The second gear of a straight says less than the first.
  return ((own * (0.5 + (missRate?.(cornerId, kind) ?? 0.5))) / (everyGear ? 1 : 1 + nth)) * safety
}

const candidatesOf = (cue: SpokenCue, { timing, edits, ...weighed }: CallOptions & { timing: CallTiming; edits: CallEdits }): Call[] => {
  const key = callKey(cue.cornerId, cue.kind, cue.nth)
  const hand = edits.calls[key]
  const end_s = cue.time_s - timing.reaction_s - timing.link_s - Math.max(0, hand?.earlier_s ?? 0)
  const worth = worthOf(cue, weighed)
  return cue.forms.map(
    ({ phrase, words, form }): Call => ({
      key,
      cornerId: cue.cornerId,
      kind: cue.kind,
      phrase,
      start_s: end_s - words / timing.rate_wps,
      end_s,
      mark_s: cue.time_s,
      markStation_m: cue.station_m,
      worth: worth * formShare[form],
      locked: hand?.locked === true,
    }),
  )
}

const tooNear = (
  a: Pick<Call, 'start_s' | 'end_s'>,
  b: Pick<Call, 'start_s' | 'end_s'>,
  gap_s: number,
  lapTime_s: number | null,
): boolean => {
  const near = (shift_s: number): boolean => a.start_s + shift_s < b.end_s + gap_s - 1e-9 && b.start_s < a.end_s + shift_s + gap_s - 1e-9
  return near(0) || (lapTime_s !== null && (near(lapTime_s) || near(-lapTime_s)))
}

/** Of locked calls that run into each other the one of more worth is kept. */
const keptApart = (calls: readonly Call[], gap_s: number, lapTime_s: number | null): Call[] => {
  const kept: Call[] = []
  for (const call of [...calls].sort((a, b) => b.worth - a.worth))
    if (!kept.some((k) => tooNear(k, call, gap_s, lapTime_s))) kept.push(call)
  return kept
}

const droppedFrom = (
  wanted: readonly Wanted[],
  calls: readonly Call[],
  { gap_s, lapTime_s, intensity, edits }: { gap_s: number; lapTime_s: number | null; intensity: Intensity; edits: CallEdits },
): DroppedCall[] => {
  const keys = new Set(calls.map((c) => c.key))
  const inCorner = new Map<string, number>()
  for (const call of calls) inCorner.set(groupOf(call), (inCorner.get(groupOf(call)) ?? 0) + 1)
  const { perCorner } = intensityCaps[intensity]
  return wanted
    .filter((w) => !keys.has(w.key))
    .map((w): DroppedCall => {
      const base = { key: w.key, cornerId: w.cue.cornerId, kind: w.cue.kind, against: null }
      if (edits.silentCorners.includes(w.cue.cornerId)) return { ...base, reason: 'silent-corner' }
      if (edits.calls[w.key]?.silent) return { ...base, reason: 'silenced' }
      if ((inCorner.get(groupOf(w.cue)) ?? 0) >= perCorner) return { ...base, reason: 'corner-cap' }
      const shortest = w.candidates.at(-1)
      const inTheWay = shortest && calls.find((c) => tooNear(c, shortest, gap_s, lapTime_s))
      if (inTheWay) return { ...base, reason: 'no-time', against: { cornerId: inTheWay.cornerId, kind: inTheWay.kind } }
      return { ...base, reason: 'lap-cap' }
    })
}
