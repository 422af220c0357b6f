import type { ImportProgress } from '@ochote/contract'
import type { OnProgress } from '../jobs/tasks.ts'

/** Progress of log imports in flight, by client-generated id. */
export const importProgressBoard = () => {
  const now = new Map<string, ImportProgress>()
  return {
    /** Runs `work`, recording its progress; the entry is removed when it ends. */
    during: async <T>(id: string | undefined, work: (onProgress?: OnProgress) => Promise<T>): Promise<T> => {
      if (!id) return work()
      try {
        return await work((reading) => now.set(id, reading))
      } finally {
        now.delete(id)
      }
    },
    of: (id: string): ImportProgress | null => now.get(id) ?? null,
  }
}
export type ImportProgressBoard = ReturnType<typeof importProgressBoard>
