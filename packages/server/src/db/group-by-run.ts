/** Rows of several runs by run, each in the order given. Cost: linear in rows. */
export const groupByRun = <R extends { run_id: string }>(rows: readonly R[]): Map<string, R[]> => {
  const groups = new Map<string, R[]>()
  for (const row of rows) {
    const group = groups.get(row.run_id)
    if (group) group.push(row)
    else groups.set(row.run_id, [row])
  }
  return groups
}
