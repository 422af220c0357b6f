/**
 * Lets a number of tasks run at a time. Those that wait take turns by person, so that many tasks of one person hold up nobody else
 * for longer than the task in hand. Cost of a task: linear in the people who wait.
 */
export const fairQueue = (lanes: number) => {
  /** Tasks that wait, by person; the person whose turn is next comes first. */
  const waiting = new Map<string, (() => void)[]>()
  let running = 0

  const next = (): void => {
    if (running >= lanes) return
    const [first] = waiting
    if (!first) return
    const [person, [begin, ...rest]] = first
    // Whoever had a turn goes to the end of the row.
    waiting.delete(person)
    if (rest.length > 0) waiting.set(person, rest)
    running++
    begin()
  }
  return {
    run: async <T>(person: string, work: () => Promise<T>): Promise<T> => {
      await new Promise<void>((resolve) => {
        waiting.set(person, [...(waiting.get(person) ?? []), resolve])
        next()
      })
      try {
        return await work()
      } finally {
        running--
        next()
      }
    },
    /** Number of tasks that wait. */
    waiting: (): number => [...waiting.values()].reduce((sum, tasks) => sum + tasks.length, 0),
  }
}
