/** A row as it was taken up: the one directly behind the leader first, from a lap on. */
export type RowTaken = { runIds: readonly string[]; lap: number }

/**
 * Laps that each one of a row really drove directly behind the leader, in the order of the first row: by the row in force on each lap from
 * 1 to `laps`. Rows in their order of time; the last word for a lap counts.
 */
export const turnsTaken = (rows: readonly RowTaken[], laps: number): { runId: string; laps: number }[] => {
  const [first] = rows
  if (!first) return []
  const turns = new Map(first.runIds.map((id) => [id, 0]))
  for (let lap = 1; lap <= laps; lap++) {
    const [behind] = rows.findLast((row) => row.lap <= lap)?.runIds ?? []
    if (behind !== undefined) turns.set(behind, (turns.get(behind) ?? 0) + 1)
  }
  return [...turns].map(([runId, count]) => ({ runId, laps: count }))
}
