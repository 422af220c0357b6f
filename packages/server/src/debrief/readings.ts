import type { Reading } from '@ochote/contract'
import type { Told } from '../jobs/tasks.ts'

/** How far the logs are that are being read just now, by the id that their sender made up. */
export const logReadings = () => {
  const now = new Map<string, Reading>()
  return {
    /** Does some work that tells how far it is; afterwards nothing is known of it. */
    during: async <T>(id: string | undefined, work: (told?: Told) => Promise<T>): Promise<T> => {
      if (!id) return work()
      try {
        return await work((reading) => now.set(id, reading))
      } finally {
        now.delete(id)
      }
    },
    of: (id: string): Reading | null => now.get(id) ?? null,
  }
}
export type LogReadings = ReturnType<typeof logReadings>
