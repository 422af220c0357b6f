import type { Log } from '../log/log.ts'

/** Files of one run further apart than this at their seam are a new beginning (s). */
const SEAM_S = 1

/**
 * Joins several logs of one run in the order of their time; those whose times overlap, as when each begins at nothing, follow each other as given.
 * Channels that one of them lacks are left out.
 */
export const joinLogs = (logs: readonly Log[]): Log => {
  if (logs.length === 1) return logs[0]
  const sorted = [...logs].sort((a, b) => a.time_s[0] - b.time_s[0])
  const apart = sorted.every((log, i) => i === 0 || log.time_s[0] > (sorted[i - 1].time_s.at(-1) ?? 0))
  const ordered = apart ? sorted : [...logs]
  const names = (Object.keys(ordered[0]) as (keyof Log)[]).filter((name) => ordered.every((log) => log[name]))
  let end = Number.NEGATIVE_INFINITY
  const parts = ordered.map((log) => {
    const shift_s = log.time_s[0] > end ? 0 : end + SEAM_S - log.time_s[0]
    end = log.time_s[log.time_s.length - 1] + shift_s
    return { log, shift_s }
  })
  const rows = parts.reduce((sum, { log }) => sum + log.time_s.length, 0)
  return Object.fromEntries(
    names.map((name) => {
      const column = new Float64Array(rows)
      let at = 0
      for (const { log, shift_s } of parts) {
        const part = log[name] as Float64Array
        for (let i = 0; i < part.length; i++) column[at++] = name === 'time_s' ? part[i] + shift_s : part[i]
      }
      return [name, column]
    }),
  ) as Log
}
