import { api, type CircuitSummary, type StoredVenue } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { call } from '../api/api-client.ts'
import { circuitsQuery, queryClient, venuesQuery } from '../api/queries.ts'
import { useVersioned } from '../merge/use-versioned.ts'

const keepList = { onSuccess: (all: CircuitSummary[]) => queryClient.setQueryData(circuitsQuery.queryKey, all) }

/** Circuits named, put away and deleted; venues changed. */
export const useCircuits = () => {
  const rename = useMutation({
    mutationFn: ({ circuitId, ...body }: { circuitId: string; name: string; venueId: string | null; version: number }) =>
      call(api.nameCircuit, { params: { circuitId }, body }),
    ...keepList,
    onError: () => queryClient.invalidateQueries({ queryKey: circuitsQuery.queryKey }),
  })
  const archive = useMutation({
    mutationFn: ({ circuitId, archived }: { circuitId: string; archived: boolean }) =>
      call(api.archiveCircuit, { params: { circuitId }, body: { archived } }),
    ...keepList,
  })
  const remove = useMutation({ mutationFn: (circuitId: string) => call(api.removeCircuit, { params: { circuitId } }), ...keepList })
  const venues = useVersioned<StoredVenue>({
    key: venuesQuery.queryKey,
    write: ({ id, ...venue }, version) => call(api.putVenue, { params: { venueId: id }, body: { ...venue, version } }),
    list: () => call(api.venues),
  })
  const removeVenue = useMutation({
    mutationFn: (venueId: string) => call(api.removeVenue, { params: { venueId } }),
    onSuccess: async (all) => {
      queryClient.setQueryData(venuesQuery.queryKey, all)
      await queryClient.invalidateQueries({ queryKey: circuitsQuery.queryKey })
    },
  })
  return {
    rename,
    archive,
    remove,
    venues,
    removeVenue,
    error: rename.error ?? archive.error ?? remove.error ?? venues.error ?? removeVenue.error,
  }
}
