import { type Endpoint, type FileSent, permissionOf } from '@ochote/contract'
import type { Request } from 'express'
import { LRUCache } from 'lru-cache'
import type { StorageWatch } from '../storage/storage.ts'
import type { Identity } from './identity.ts'
import { HttpProblem } from './problems.ts'

/** Size of a file of each kind, as a multiple of the configured limit. */
const sizes: Readonly<Record<FileSent, number>> = { log: 1, circuit: 1, vehicles: 1 / 4, school: 32 }

/** Files on their way at a time: by one link, by one account, by all. */
const AT_ONCE = { link: 1, account: 3, all: 8 }

/** Bytes that links may bring within a day: one link, all of them together. */
const QUOTA = { link: 400 * 1024 ** 2, links: 4 * 1024 ** 3 }
const DAY_MS = 24 * 3600 * 1000

/** Room that stays free on the disk, whatever is sent (bytes). */
const KEPT_FREE = 256 * 1024 ** 2

const tooMany = (): HttpProblem =>
  new HttpProblem(
    429,
    'too-busy',
    'Too many files are being sent at the moment.',
    'Wait until one of them is through, then send it again; nothing was stored.',
  )

const overQuota = (): HttpProblem =>
  new HttpProblem(
    429,
    'too-many-logs',
    'This link has reached its limit of logs.',
    'Ask your instructor to add the file, or send it tomorrow; those sent in are kept.',
  )

const noRoom = (): HttpProblem =>
  new HttpProblem(
    507,
    'disk-full',
    'The server’s disk has no room for this file.',
    'Free some space on the server’s disk, then send it again; nothing was stored.',
  )

/** Lets files in: their number at a time, their size, the quota of links, and the room on the disk are checked before the first byte. */
export const uploadGate = (uploadLimit: number, storage: Pick<StorageWatch, 'check'>) => {
  const underWay = new Map<string, number>()
  const brought = new LRUCache<string, number>({ max: 10_000, ttl: DAY_MS, noUpdateTTL: true })
  const count = (key: string): number => underWay.get(key) ?? 0
  const change = (key: string, by: number): void => {
    const next = count(key) + by
    if (next > 0) underWay.set(key, next)
    else underWay.delete(key)
  }

  return {
    /** Does some work with a file; `work` is given the largest size that the file may have (bytes). */
    during: async <T>(endpoint: Endpoint, identity: Identity, req: Request, work: (limit: number) => Promise<T>): Promise<T> => {
      const limit = Math.round(sizes[endpoint.file ?? 'log'] * uploadLimit)
      const byLink = permissionOf(endpoint).who === 'link'
      const key = byLink ? `link ${String(req.params.token)}` : identity.key
      if (count('all') >= AT_ONCE.all || count(key) >= (byLink ? AT_ONCE.link : AT_ONCE.account)) throw tooMany()
      // A body without a length may become as large as its kind allows.
      const size = Math.min(limit, Number(req.headers['content-length'] ?? limit))
      for (const counted of ['all', key]) change(counted, 1)
      try {
        const quotas = byLink
          ? ([
              [key, QUOTA.link],
              ['links', QUOTA.links],
            ] as const)
          : []
        for (const [name, quota] of quotas) if ((brought.get(name) ?? 0) + size > quota) throw overQuota()
        for (const [name] of quotas) brought.set(name, (brought.get(name) ?? 0) + size)
        const { free_bytes } = await storage.check()
        if (free_bytes !== null && free_bytes < 3 * size + KEPT_FREE) throw noRoom()
        return await work(limit)
      } finally {
        for (const counted of ['all', key]) change(counted, -1)
      }
    },
  }
}
export type UploadGate = ReturnType<typeof uploadGate>
