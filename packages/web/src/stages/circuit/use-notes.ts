import { api, type CircuitNotes, type StoredCircuit } from '@ochote/contract'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useCallback, useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { keepServerCircuit, readCircuit, serverCircuit } from '../../data/api/as-on-server.ts'
import { circuitQuery, circuitsQuery, queryClient } from '../../data/api/queries.ts'
import { type History, pushHistory, redoHistory, startHistory, undoHistory } from '../../data/history/history.ts'
import { useUndoKeys } from '../../data/history/use-undo-keys.ts'
import { type LostField, mergeFields } from '../../data/merge/merge-fields.ts'
import { writeMerged } from '../../data/merge/write-merged.ts'

const WRITE_NOTES = ['write-notes']

/** A circuit's notes with how to change them, take changes back and do them again. */
export type Notes = {
  notes: CircuitNotes | undefined
  change: (next: CircuitNotes) => void
  undo: (() => void) | null
  redo: (() => void) | null
  error: Error | null
  /** Fields of a change that somebody else had changed meanwhile: theirs were kept. */
  lost: readonly LostField[]
  forgetLost: () => void
}

/**
 * The notes of a circuit. A change shows at once and is sent; what somebody else changed meanwhile comes along field by field.
 */
export const useNotes = (circuitId: string): Notes => {
  const stored = useQuery(circuitQuery(circuitId))
  const [lost, setLost] = useState<readonly LostField[]>([])
  const [history, setHistory] = useState<{ circuitId: string; steps: History<CircuitNotes> } | null>(null)
  const key = circuitQuery(circuitId).queryKey
  const save = useMutation({
    scope: { id: 'circuit-notes' },
    mutationKey: WRITE_NOTES,
    mutationFn: async ({ base, mine }: { base: CircuitNotes; mine: CircuitNotes }) => {
      const known = serverCircuit(circuitId) ?? (await readCircuit(circuitId))
      return writeMerged({
        base: known.notes,
        mine: mergeFields(base, mine, known.notes).merged,
        version: known.version,
        write: (notes, version) => call(api.saveNotes, { params: { circuitId }, body: { version, notes } }),
        read: async () => {
          const { notes, version } = await readCircuit(circuitId)
          return { doc: notes, version }
        },
      })
    },
    onSuccess: ({ written, lost: fields }, { mine }) => {
      keepServerCircuit(written)
      if (fields.length > 0) setLost(fields)
      // What is on screen is newer than what was written only while another change waits behind this one.
      const more = queryClient.isMutating({ mutationKey: WRITE_NOTES }) > 1
      queryClient.setQueryData<StoredCircuit>(key, (now) =>
        now && more ? { ...written, notes: mergeFields(mine, now.notes, written.notes).merged } : written,
      )
      void queryClient.invalidateQueries({ queryKey: circuitsQuery.queryKey, exact: true })
    },
    onError: () => {
      setHistory(null)
      void queryClient.invalidateQueries({ queryKey: key })
    },
  })
  const { mutate } = save
  // What somebody else brought along is not taken back by a step of one's own: the steps begin anew then.
  const steps = !stored.data
    ? null
    : history?.circuitId === circuitId && JSON.stringify(history.steps.now) === JSON.stringify(stored.data.notes)
      ? history.steps
      : startHistory(stored.data.notes)
  const go = useCallback(
    (next: History<CircuitNotes>): void => {
      setHistory({ circuitId, steps: next })
      // An answer that is under way is older than this change and must not undo it on screen.
      void queryClient.cancelQueries({ queryKey: key }, { revert: false })
      const base = queryClient.getQueryData<StoredCircuit>(key)?.notes
      queryClient.setQueryData<StoredCircuit>(key, (now) => (now ? { ...now, notes: next.now } : now))
      if (base) mutate({ base, mine: next.now })
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
    lost,
    forgetLost: () => setLost([]),
  }
}
