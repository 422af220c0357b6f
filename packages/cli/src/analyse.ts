import { logMappingSchema } from '@ochote/contract'
import {
  type Analysis,
  adviceLimitsOf,
  adviceText,
  consistencyOf,
  differsText,
  type Finding,
  findCorners,
  type HeldAgainst,
  holdAgainst,
  joinLogs,
  type Log,
  type LogMapping,
  logOf,
  makePlan,
  praiseText,
  type Reference,
  type ReferenceTold,
  type ReferenceWish,
  referenceText,
  referenceTold,
  selectAdvice,
  selectPraise,
  timeToFind,
  type Venue,
} from '@ochote/core'
import { methodOption } from './line.ts'
import {
  type Options,
  readJson,
  readLogAt,
  reportTiming,
  required,
  settingsOption,
  studentSettingsOption,
  UsageError,
  vehicleOption,
  venueOption,
  writeOut,
} from './options.ts'

const round = (value: number, digits: number): number => Number(value.toFixed(digits))

const describeFinding = (f: Finding) => ({
  lap: f.lap,
  corner: f.cornerName,
  s_m: round(f.station_m, 1),
  from_m: round(f.from_m, 1),
  to_m: round(f.to_m, 1),
  code: f.code,
  root: f.root,
  ...(f.because ? { because: f.because } : {}),
  certainty: round(f.certainty, 3),
  lossTime_s: round(f.lossTime_s, 3),
  evidence: Object.fromEntries(Object.entries(f.evidence).map(([name, value]) => [name, round(value, 3)])),
})

/** What --reference names; what explains the drive best where it is absent. */
const referenceOption = async (options: Options, venue: Venue): Promise<ReferenceWish> => {
  const text = String(options.reference ?? 'auto')
  const lap = /^lap:(\d+)$/.exec(text)
  if (lap) return { kind: 'lap', lap: Number(lap[1]) }
  if (text === 'auto' || text === 'best') return { kind: text }
  if (text !== 'plan') throw new UsageError('--reference takes auto, plan, lap:N or best.')
  const settings = { ...studentSettingsOption(options), method: methodOption(options, 'smoothest') }
  return { kind: 'plan', plan: makePlan(venue, await vehicleOption(options), settings) }
}

/** What the log was held against and why, with one sentence. */
const describeReference = ({ reference, why, instead }: HeldAgainst) => {
  const better = instead && referenceTold(instead.reference)
  return {
    ...described(referenceTold(reference)),
    why,
    sentence: better ? differsText(better) : referenceText(referenceTold(reference), why),
    ...(better ? { instead: described(better) } : {}),
  }
}

const roundAll = (numbers: Readonly<Record<string, number>>) =>
  Object.fromEntries(Object.entries(numbers).map(([name, value]) => [name, round(value, 3)]))

const described = (told: ReferenceTold) => (told.kind === 'plan' ? { ...told, pace: round(told.pace, 3) } : told)

/** The mapping of --map, a JSON file: channel → {"column": …, "unit": …}. */
const mappingOption = async (options: Options): Promise<LogMapping | undefined> => {
  if (typeof options.map !== 'string') return undefined
  return (await readJson(options.map, 'mapping', logMappingSchema)) as LogMapping
}

/** `ochote analyse`: laps and findings of a log as JSON. Several files of one run, parted by commas, are joined. */
export const analyse = async (options: Options): Promise<void> => {
  const venue = await venueOption(options)
  const corners = findCorners(venue.circuit)
  const mapping = await mappingOption(options)
  const logs: Log[] = []
  const files = required(options, 'log').split(',')
  let began = performance.now()
  for (const name of files) {
    const file = await readLogAt(name)
    if (file.form === 'table' && file.table.cutRow !== undefined)
      process.stderr.write(`The last row of ${name} (row ${file.table.cutRow}) ends in the middle and is left out.\n`)
    logs.push(logOf(file, mapping))
  }
  const log = joinLogs(logs)
  const reading = performance.now() - began
  const wish = await referenceOption(options, venue)
  const vehicle = options.vehicle === undefined ? null : await vehicleOption(options)
  began = performance.now()
  const planned = settingsOption(options, { pace: 0.75, school: 'straight' })
  const school = options.school === undefined ? {} : { school: planned.school }
  const held = holdAgainst({ ...venue, corners }, vehicle, log, wish, planned, school)
  const { analysis, reference } = held
  const analysing = performance.now() - began
  for (const s of analysis.skipped)
    process.stderr.write(`Lap ${s.lap} is left out: ${skippedWords[s.reason]} (${s.gap_s.toFixed(1)} s after ${s.after_s.toFixed(1)} s).\n`)
  if (venue.circuit.widthAssumed)
    process.stderr.write(
      'The file gives no road widths: 5 m on each side are assumed, and nothing is said of edges. Give --width METRES.\n',
    )
  const { quality } = analysis
  const result = {
    reference: describeReference(held),
    laps: analysis.laps.map((l) => ({
      lap: l.lap,
      start_s: round(l.start_s, 3),
      time_s: round(l.time_s, 3),
      ...(l.gap_s > 0 ? { gap_s: round(l.gap_s, 1) } : {}),
    })),
    skipped: analysis.skipped.map((s) => ({
      lap: s.lap,
      start_s: round(s.start_s, 3),
      gap_s: round(s.gap_s, 3),
      after_s: round(s.after_s, 3),
      reason: s.reason,
    })),
    quality: {
      rate_hz: round(1 / quality.interval_s, 1),
      offsetNoise_m: round(quality.offsetNoise_m, 3),
      drift_m: round(quality.drift_m, 3),
      positions: quality.positions,
      pedals: quality.pedals,
      demandsFrom: quality.demands.source,
      ...(quality.demands.mounting ? { accelerometer: roundAll(quality.demands.mounting) } : {}),
      steering: quality.steering,
    },
    undecidable: {
      codes: analysis.undecidableCodes,
      passes: analysis.undecidable.map((u) => ({ lap: u.lap, corner: u.cornerId, codes: u.codes })),
    },
    findings: analysis.findings.map(describeFinding),
    ...review(analysis, reference),
  }
  await writeOut(options, `${JSON.stringify(result, null, 1)}\n`)
  reportTiming(options, { read: reading, analyse: analysing })
}

/** The summary of an analysis: what to say first, what held, how consistent each corner is, and the theoretical best lap. */
const review = (analysis: Analysis, reference: Reference) => {
  const { passes, theoreticalBest, findings } = analysis
  const limits = reference.kind === 'plan' ? adviceLimitsOf(reference.plan) : { dry: true }
  const shares = timeToFind(passes)
  const rounded = (value: number | null): number | null => (value === null ? null : round(value, 2))
  return {
    say: selectAdvice(findings, (id) => passes.filter((p) => p.cornerId === id).length, limits, shares).map((a) => ({
      corner: a.cornerId,
      code: a.code,
      reason: a.reason,
      laps: a.laps,
      of: a.passes,
      time_s: round(a.time_s, 3),
      margin_s: round(a.margin_s, 3),
      certainty: round(a.certainty, 3),
      ofTimeToFind: rounded(shares.find((s) => s.cornerId === a.cornerId)?.share ?? null),
      ...adviceText(a),
    })),
    held: selectPraise(findings, passes).map((p) => ({ corner: p.cornerId, say: praiseText(p) })),
    consistency: consistencyOf(passes).map((c) => ({
      corner: c.cornerId,
      passes: c.passes,
      brakeSpread_m: rounded(c.brake_m),
      turnInSpread_m: rounded(c.turnIn_m),
      slowestSpread_mps: round(c.slowest_mps, 2),
    })),
    theoreticalBest: theoreticalBest && {
      ideal_s: round(theoreticalBest.ideal_s, 3),
      best_s: round(theoreticalBest.best_s, 3),
      pieces: theoreticalBest.pieces.map((p) => ({
        lap: p.lap,
        from_m: round(p.from_m, 0),
        to_m: round(p.to_m, 0),
        time_s: round(p.time_s, 3),
      })),
    },
    passes: passes.map(({ lap, cornerId, phases_s, off, shape, ...marks }) => ({
      lap,
      corner: cornerId,
      ...Object.fromEntries(Object.entries(marks).map(([name, value]) => [name, rounded(value)])),
      ...(shape
        ? {
            slowest_m: round(shape.slowest_m, 1),
            apexInner_m: round(shape.apexInner_m, 2),
            exitOuter_m: rounded(shape.exitOuter_m),
            radius_m: round(shape.radius_m, 1),
            shifts: shape.shifts.map(({ station_m, to }) => ({ station_m: round(station_m, 0), to })),
          }
        : {}),
      phases_s: phases_s.map((v) => round(v, 3)),
    })),
  }
}

const skippedWords = {
  silent: 'the log is silent for most of it',
  stop: 'the car stood',
  elsewhere: 'it left the circuit, or took another layout',
} as const
