import type { ImportProgress } from '@ochote/contract'
import type { OnProgress } from '../jobs/tasks.ts'

/** How far the logs are that are being read just now, by the id that their sender made up. */
export const importProgressBoard = () => {
  const now = new Map<string, ImportProgress>()
  return {
    /** Does some work that tells how far it is; afterwards nothing is known of it. */
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
