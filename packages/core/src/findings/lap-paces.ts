import type { Analysis } from './analyse.ts'

/** Laps that were driven at another pace than a log's plan, with the log held against the plan at that pace. */
export type LapsAtPace = { laps: ReadonlySet<number>; analysis: Analysis }

/**
 * An analysis in which laps that were meant to be driven at another pace are judged by the plan at that pace: their findings and passes,
 * and what could not be told of them. Laps, traces and times stay as they are.
 */
export const withLapPaces = (analysis: Analysis, others: readonly LapsAtPace[]): Analysis => {
  const own = ({ lap }: { lap: number }): boolean => !others.some(({ laps }) => laps.has(lap))
  const merged = <K extends 'findings' | 'passes' | 'undecidable'>(key: K): Analysis[K] =>
    [
      ...(analysis[key] as { lap: number }[]).filter(own),
      ...others.flatMap((other) => (other.analysis[key] as { lap: number }[]).filter(({ lap }) => other.laps.has(lap))),
    ] as Analysis[K]
  return { ...analysis, findings: merged('findings'), passes: merged('passes'), undecidable: merged('undecidable') }
}
