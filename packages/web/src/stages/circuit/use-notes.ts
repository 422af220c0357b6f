import { api, type CircuitNotes, type StoredCircuit } from '@ochote/contract'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useCallback, useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { circuitQuery, circuitsQuery, queryClient } from '../../data/api/queries.ts'
import { type History, pushHistory, redoHistory, startHistory, undoHistory } from '../../data/history/history.ts'
import { useUndoKeys } from '../../data/history/use-undo-keys.ts'

const WRITE_NOTES = ['write-notes']

/** A circuit's notes with how to change them, take changes back and do them again. */
export type Notes = {
  notes: CircuitNotes | undefined
  change: (next: CircuitNotes) => void
  undo: (() => void) | null
  redo: (() => void) | null
  error: Error | null
}

/**
 * The notes of a circuit. A change shows at once and is sent; where somebody else was faster the newer notes are shown
 * with a word, and the steps to take back begin anew.
 */
export const useNotes = (circuitId: string): Notes => {
  const stored = useQuery(circuitQuery(circuitId))
  const [history, setHistory] = useState<{ circuitId: string; steps: History<CircuitNotes> } | null>(null)
  const key = circuitQuery(circuitId).queryKey
  const save = useMutation({
    scope: { id: 'circuit-notes' },
    mutationKey: WRITE_NOTES,
    mutationFn: (notes: CircuitNotes) =>
      call(api.saveNotes, {
        params: { circuitId },
        body: { version: queryClient.getQueryData<StoredCircuit>(key)?.version ?? 0, notes },
      }),
    onSuccess: (circuit) => {
      // What is on screen is newer than what was written only while another change waits behind this one.
      const more = queryClient.isMutating({ mutationKey: WRITE_NOTES }) > 1
      queryClient.setQueryData<StoredCircuit>(key, (now) => (now && more ? { ...circuit, notes: now.notes } : circuit))
      void queryClient.invalidateQueries({ queryKey: circuitsQuery.queryKey, exact: true })
    },
    onError: () => {
      setHistory(null)
      void queryClient.invalidateQueries({ queryKey: key })
    },
  })
  const { mutate } = save
  const steps = history?.circuitId === circuitId ? history.steps : stored.data ? startHistory(stored.data.notes) : null
  const go = useCallback(
    (next: History<CircuitNotes>): void => {
      setHistory({ circuitId, steps: next })
      // An answer that is under way is older than this change and must not undo it on screen.
      void queryClient.cancelQueries({ queryKey: key }, { revert: false })
      queryClient.setQueryData<StoredCircuit>(key, (now) => (now ? { ...now, notes: next.now } : now))
      mutate(next.now)
    },
    [circuitId, key, mutate],
  )
  const undo = steps && steps.past.length > 0 ? () => go(undoHistory(steps)) : null
  const redo = steps && steps.future.length > 0 ? () => go(redoHistory(steps)) : null
  useUndoKeys(undo, redo)
  return {
    notes: stored.data?.notes,
    change: (next) => steps && go(pushHistory(steps, next)),
    undo,
    redo,
    error: save.error,
  }
}
