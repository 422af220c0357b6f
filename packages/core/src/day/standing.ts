/** The events that no undo withdrew, in the order given. Works for events of runs and of days alike. */
export const standing = <E extends { id: string; kind: string }>(events: readonly E[]): Exclude<E, { kind: 'undo' }>[] => {
  const undone = new Set(events.flatMap((e) => (e.kind === 'undo' && 'undoes' in e ? [e.undoes] : [])))
  return events.filter((e): e is Exclude<E, { kind: 'undo' }> => e.kind !== 'undo' && !undone.has(e.id))
}
