import { api, type SchoolSettings, type StoredSchoolSettings, schoolOf, schoolSettingsSchema } from '@ochote/contract'
import type { ConeScheme, PhraseBook } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { call } from '../api/api-client.ts'
import { queryClient, schoolSettingsQuery } from '../api/queries.ts'

/** The school's settings with all schemes and phrase books, its own first, and how to change them. */
export type SchoolSettingsState = {
  schoolSettings: SchoolSettings
  schemes: readonly ConeScheme[]
  books: readonly PhraseBook[]
  save: (change: Partial<SchoolSettings>) => void
  error: Error | null
}

const empty = schoolSettingsSchema.parse({})
const WRITE_SETTINGS = ['write-school-settings']

/** The school's settings. A change shows at once and is sent; if someone else has changed them, the page says so. */
export const useSchoolSettings = (): SchoolSettingsState => {
  const stored = useQuery(schoolSettingsQuery)
  const save = useMutation({
    scope: { id: 'school-settings' },
    mutationKey: WRITE_SETTINGS,
    mutationFn: (schoolSettings: SchoolSettings) =>
      call(api.saveSchoolSettings, {
        body: { version: queryClient.getQueryData<StoredSchoolSettings>(schoolSettingsQuery.queryKey)?.version ?? 0, schoolSettings },
      }),
    onSuccess: (written) =>
      queryClient.setQueryData<StoredSchoolSettings>(schoolSettingsQuery.queryKey, (now) =>
        // What is on screen is newer than what was written only while another change waits behind this one.
        now && queryClient.isMutating({ mutationKey: WRITE_SETTINGS }) > 1
          ? { version: written.version, schoolSettings: now.schoolSettings }
          : written,
      ),
    onError: () => queryClient.invalidateQueries({ queryKey: schoolSettingsQuery.queryKey }),
  })
  const schoolSettings = stored.data?.schoolSettings ?? empty
  const { schemes, books } = useMemo(() => schoolOf(schoolSettings), [schoolSettings])
  return {
    schoolSettings,
    schemes,
    books,
    error: stored.error ?? save.error,
    save: (change) => {
      const next = {
        ...(queryClient.getQueryData<StoredSchoolSettings>(schoolSettingsQuery.queryKey)?.schoolSettings ?? schoolSettings),
        ...change,
      }
      // An answer that is under way is older than this change and must not undo it on screen.
      void queryClient.cancelQueries({ queryKey: schoolSettingsQuery.queryKey }, { revert: false })
      queryClient.setQueryData<StoredSchoolSettings>(schoolSettingsQuery.queryKey, (now) => ({
        version: now?.version ?? 0,
        schoolSettings: next,
      }))
      save.mutate(next)
    },
  }
}
