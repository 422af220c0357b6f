import { api, type SchoolSettings, type StoredSchoolSettings, schoolOf, schoolSettingsSchema } from '@ochote/contract'
import type { ConeScheme, PhraseBook } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { call } from '../api/api-client.ts'
import { keepServerSettings, readSettings, serverSettings } from '../api/as-on-server.ts'
import { queryClient, schoolSettingsQuery } from '../api/queries.ts'
import { type LostField, mergeFields } from '../merge/merge-fields.ts'
import { writeMerged } from '../merge/write-merged.ts'

/** The school's settings with all schemes and phrase books, its own first, and how to change them. */
export type SchoolSettingsState = {
  schoolSettings: SchoolSettings
  schemes: readonly ConeScheme[]
  books: readonly PhraseBook[]
  save: (change: Partial<SchoolSettings>) => void
  error: Error | null
  /** Fields of a change that somebody else had changed meanwhile: theirs were kept. */
  lost: readonly LostField[]
  forgetLost: () => void
}

const empty = schoolSettingsSchema.parse({})
/** Key of the writes of the settings: whoever waits for them asks for it. */
export const WRITE_SETTINGS = ['write-school-settings']
const key = schoolSettingsQuery.queryKey

/** The school's settings. A change shows at once and is sent; what somebody else changed meanwhile comes along. */
export const useSchoolSettings = (): SchoolSettingsState => {
  const stored = useQuery(schoolSettingsQuery)
  const [lost, setLost] = useState<readonly LostField[]>([])
  const save = useMutation({
    scope: { id: 'school-settings' },
    mutationKey: WRITE_SETTINGS,
    mutationFn: async ({ base, mine }: { base: SchoolSettings; mine: SchoolSettings }) => {
      const server = serverSettings() ?? (await readSettings())
      return writeMerged({
        base: server.schoolSettings,
        mine: mergeFields(base, mine, server.schoolSettings).merged,
        version: server.version,
        write: (schoolSettings, version) => call(api.saveSchoolSettings, { body: { version, schoolSettings } }),
        read: async () => {
          const { schoolSettings, version } = await readSettings()
          return { doc: schoolSettings, version }
        },
      })
    },
    onSuccess: ({ written, lost: fields }, { mine }) => {
      keepServerSettings(written)
      if (fields.length > 0) setLost(fields)
      queryClient.setQueryData<StoredSchoolSettings>(key, (now) =>
        // What is on screen is newer than what was written only while another change waits behind this one.
        now && queryClient.isMutating({ mutationKey: WRITE_SETTINGS }) > 1
          ? { version: written.version, schoolSettings: mergeFields(mine, now.schoolSettings, written.schoolSettings).merged }
          : written,
      )
    },
    onError: () => queryClient.invalidateQueries({ queryKey: key }),
  })
  const schoolSettings = stored.data?.schoolSettings ?? empty
  const { schemes, books } = useMemo(() => schoolOf(schoolSettings), [schoolSettings])
  return {
    schoolSettings,
    schemes,
    books,
    error: stored.error ?? save.error,
    lost,
    forgetLost: () => setLost([]),
    save: (change) => {
      const base = queryClient.getQueryData<StoredSchoolSettings>(key)?.schoolSettings ?? schoolSettings
      const mine = { ...base, ...change }
      // An answer that is under way is older than this change and must not undo it on screen.
      void queryClient.cancelQueries({ queryKey: key }, { revert: false })
      queryClient.setQueryData<StoredSchoolSettings>(key, (now) => ({ version: now?.version ?? 0, schoolSettings: mine }))
      save.mutate({ base, mine })
    },
  }
}
