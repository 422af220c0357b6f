import { canExplain, gearCodes, type LogCode, mistakes, placeCodes, wheelCodes } from '../mistakes/mistakes.ts'
import type { Comparison, Report } from './comparison.ts'
import { judgeBraking } from './judge-braking.ts'
import { judgeGears } from './judge-gears.ts'
import { judgeLine } from './judge-line.ts'
import { judgeThrottle } from './judge-throttle.ts'
import { judgeWheel } from './judge-wheel.ts'
import type { JudgedMistake } from './judged.ts'
import { toldWhenSparse } from './quality.ts'
import { TELLS_UP_TO } from './thresholds.ts'

/** Probability that a standard normal is below z (Abramowitz & Stegun 26.2.17, error below 1e-7). */
const normalBelow = (z: number): number => {
  const t = 1 / (1 + 0.2316419 * Math.abs(z))
  const tail =
    (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))))
  return z > 0 ? 1 - tail : tail
}

/** The most that a few trial passes stray, as a share of what nearly all would. */
const SPREAD_TIMES = 1.5

/** Where a log has to show this many times a threshold, mistakes of the usual size hide in it: that none was found says nothing. */
const HIDES = 1.7

/** What is derived from speeds or positions alone is never quite certain: those have faults that no noise tells. */
const MOST_CERTAIN = { speed: 0.95, accelerations: 0.98, pedals: 1 } as const
const mostCertain = ({ demands }: Comparison): number => MOST_CERTAIN[demands]

/** The wheel is told by the path where no sensor does. */
const ofWheel: ReadonlySet<LogCode> = new Set(wheelCodes)
/** Places across the road and gears: their own doubts know of the receiver's drift what single passes do not show. */
const ofPlace: ReadonlySet<LogCode> = new Set([...placeCodes, ...gearCodes])

/** True for a code that a log has no sensor for, so that it is read off speeds or the path. */
const isDerived = ({ pedals, steering }: Comparison, code: LogCode): boolean =>
  !ofPlace.has(code) && (ofWheel.has(code) ? !steering : !pedals)

/** Normal scatter of one driver's marks, as a fraction of the threshold. */
const HUMAN_SHARE = 0.15

/**
 * All mistakes of one pass against a reference, each with its evidence, and the codes about which the log cannot tell here.
 * Distances, times and shares count as mistakes beyond their threshold and twice their standard error.
 */
export const judgePass = (comparison: Comparison): { found: JudgedMistake[]; undecidable: LogCode[] } => {
  const found: JudgedMistake[] = []
  const undecidable = new Set<LogCode>()
  /** Past their threshold as they were measured, but by no more than the log may show of anybody. */
  const likely = new Set<LogCode>()
  const report: Report = {
    undecidable: (code) => undecidable.add(code),
    found: (code, { from_m, to_m }, measured, bound, evidence) => {
      if (comparison.sparse && !toldWhenSparse.has(code)) {
        undecidable.add(code)
        return
      }
      comparison.see?.(code, measured)
      const { own } = bound
      const trial = isDerived(comparison, code) ? comparison.trial?.get(code) : undefined
      // What the log would show of the reference itself is no mistake of the driver's.
      const value = measured - (trial?.bias ?? 0)
      const uncertainty = Math.max(bound.uncertainty, SPREAD_TIMES * (trial?.spread ?? 0))
      const allowed = own + uncertainty
      if (own > 0 && value > own && value <= allowed) likely.add(code)
      if ((own > 0 && allowed > TELLS_UP_TO * own) || (own === 0 && trial?.shown)) {
        undecidable.add(code)
        return
      }
      if (!(value > allowed)) {
        // More than is allowed, but no more than this log may show of anybody; or a mistake of the usual size would not have shown.
        if (trial && own > 0 && (value > own || allowed > HIDES * own)) undecidable.add(code)
        return
      }
      const error = Math.hypot(uncertainty / 2, HUMAN_SHARE * own)
      const certainty = Math.min(mostCertain(comparison), error > 0 ? normalBelow((value - own) / error) : 1)
      const min = own > 0 ? own : allowed
      const size = { from_m, to_m: Math.max(from_m, to_m), times: min > 0 ? value / min : 1 + value, certainty }
      // The caller's code and evidence belong together; the union cannot say so for a code that is not known yet.
      found.push({ ...size, code, evidence } as JudgedMistake)
    },
  }
  judgeBraking(comparison, report)
  judgeLine(comparison, report)
  judgeWheel(comparison, report)
  judgeThrottle(comparison, report)
  judgeGears(comparison, report)
  const told = found.filter(({ code }) => mistakes[code].safety || ![...likely].some((cause) => canExplain(cause, code)))
  for (const { code } of found) if (!told.some((mistake) => mistake.code === code)) undecidable.add(code)
  return { found: told.sort((a, b) => a.from_m - b.from_m), undecidable: [...undecidable] }
}
