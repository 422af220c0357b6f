import { quantile } from '../solve/robust.ts'
import type { Log } from './log.ts'
import type { MatchedLog } from './matched-log.ts'

/** Noise of positions: of single fixes (m, 1σ), and of the steps of a slow drift (m for the square root of a second). */
export type PositionNoise = { single_m: number; drift_mps: number }

/** Lags at which steps of the noise are compared (s): single fixes show at the short one, a drift grows with the long one. */
const LAGS_S = [0.1, 0.2] as const

/**
 * Noise of a log's positions, from how far the path strays sideways on straights: third differences of single fixes of noise σ have a
 * variance of 20σ² whatever their lag, those of a drift 6 times its own over the lag; their medians, so that what was driven hardly counts.
 */
export const positionNoise = ({ time_s }: Pick<Log, 'time_s'>, { offset_m, onCircuit }: MatchedLog, interval_s: number): PositionNoise => {
  const n = time_s.length
  const first = Math.max(1, Math.round(LAGS_S[0] / interval_s))
  const variances = [first, Math.max(2 * first, Math.round(LAGS_S[1] / interval_s))].map((lag) => {
    const differences: number[] = []
    for (let i = 0; i + 3 * lag < n; i++) {
      if (!onCircuit[i] || !onCircuit[i + 3 * lag] || time_s[i + 3 * lag] - time_s[i] > 4.5 * lag * interval_s) continue
      const d = offset_m[i + 3 * lag] - 3 * offset_m[i + 2 * lag] + 3 * offset_m[i + lag] - offset_m[i]
      if (Number.isFinite(d)) differences.push(Math.abs(d))
    }
    return { lag_s: lag * interval_s, variance: (quantile(differences, 0.4) / 0.5244) ** 2 }
  })
  const [short, long] = variances
  const apart_s = long.lag_s - short.lag_s
  const drift = apart_s > 0 ? Math.max(0, (long.variance - short.variance) / (6 * apart_s)) : 0
  return { single_m: Math.sqrt(Math.max(0, (short.variance - 6 * drift * short.lag_s) / 20)), drift_mps: Math.sqrt(drift) }
}
