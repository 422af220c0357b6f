import { type QueryKey, useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { say } from '../../language/say.ts'
import { queryClient } from '../api/queries.ts'
import type { LostField } from './merge-fields.ts'
import { writeMerged } from './write-merged.ts'

/** A document with a version, as lists hold it. */
type Versioned = { id: string; version: number }

/** Where documents are written and read. */
type Place<T extends Versioned> = { key: QueryKey; write: (doc: T, version: number) => Promise<T>; list: () => Promise<readonly T[]> }

/**
 * Changes of documents in a list, each shown at once. What somebody else changed meanwhile comes along field by field; fields that both
 * changed stay theirs and are told in `lost`. A change that failed is taken off the screen, and its error told.
 */
export const useVersioned = <T extends Versioned>({ key, write, list }: Place<T>) => {
  const [lost, setLost] = useState<readonly LostField[]>([])
  const inList = (doc: T): void =>
    void queryClient.setQueryData<readonly T[]>(key, (now = []) =>
      now.some((one) => one.id === doc.id) ? now.map((one) => (one.id === doc.id ? doc : one)) : [...now, doc],
    )
  const change = useMutation({
    scope: { id: JSON.stringify(key) },
    mutationFn: async ({ base, mine }: { base: T; mine: T }) =>
      writeMerged({
        base,
        mine,
        // A change before this one may have raised the version.
        version: queryClient.getQueryData<readonly T[]>(key)?.find((one) => one.id === mine.id)?.version ?? mine.version,
        write,
        read: async () => {
          const theirs = (await list()).find((one) => one.id === mine.id)
          if (!theirs) throw new Error(say`Somebody else has removed it meanwhile. What you entered was not kept.`)
          return { doc: theirs, version: theirs.version }
        },
      }),
    onMutate: ({ base, mine }) => {
      void queryClient.cancelQueries({ queryKey: key, exact: true })
      if (base.version > 0) inList(mine)
    },
    onSuccess: ({ written, lost: fields }) => {
      if (fields.length > 0) setLost(fields)
      inList(written)
    },
    onSettled: () => queryClient.invalidateQueries({ queryKey: key }),
  })
  return {
    /** Writes a document that was `base` before. */
    save: (base: T, mine: T): Promise<T> => change.mutateAsync({ base, mine }).then(({ written }) => written),
    put: (base: T, mine: T): void => change.mutate({ base, mine }),
    pending: change.isPending,
    error: change.error,
    lost,
    forgetLost: () => setLost([]),
  }
}
