import { api, type Kit, kitSchema, type StoredKit } from '@ochote/contract'
import { type ConeScheme, coneSchemes, type PhraseBook, phraseBooks } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { call } from '../api/api-client.ts'
import { kitQuery, queryClient } from '../api/queries.ts'

/** The school's kit with all schemes and phrase books, its own first, and how to change it. */
export type KitState = {
  kit: Kit
  schemes: readonly ConeScheme[]
  books: readonly PhraseBook[]
  save: (change: Partial<Kit>) => void
  error: Error | null
}

const empty = kitSchema.parse({})

/** The school's kit; a change shows at once and is sent, a newer one of somebody else is shown with a word. */
export const useKit = (): KitState => {
  const stored = useQuery(kitQuery)
  const save = useMutation({
    scope: { id: 'kit' },
    mutationFn: (kit: Kit) =>
      call(api.saveKit, { body: { version: queryClient.getQueryData<StoredKit>(kitQuery.queryKey)?.version ?? 0, kit } }),
    onSuccess: (written) =>
      queryClient.setQueryData<StoredKit>(kitQuery.queryKey, (now) => (now ? { version: written.version, kit: now.kit } : written)),
    onError: () => queryClient.invalidateQueries({ queryKey: kitQuery.queryKey }),
  })
  const kit = stored.data?.kit ?? empty
  const schemes = useMemo(() => [...(kit.schemes as ConeScheme[]), ...coneSchemes], [kit.schemes])
  const books = useMemo(() => [...(kit.phraseBooks as PhraseBook[]), ...phraseBooks], [kit.phraseBooks])
  return {
    kit,
    schemes,
    books,
    error: stored.error ?? save.error,
    save: (change) => {
      const next = { ...(queryClient.getQueryData<StoredKit>(kitQuery.queryKey)?.kit ?? kit), ...change }
      queryClient.setQueryData<StoredKit>(kitQuery.queryKey, (now) => ({ version: now?.version ?? 0, kit: next }))
      save.mutate(next)
    },
  }
}
