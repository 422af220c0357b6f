import { type Endpoint, type FileSent, permissionOf } from '@ochote/contract'
import type { Request } from 'express'
import type { Present } from '../db/present.ts'
import { hashOfToken } from '../secrets/secrets.ts'
import type { StorageWatch } from '../storage/storage.ts'
import type { Identity } from './identity.ts'
import { HttpProblem } from './problems.ts'

/** Size of a file of each kind, as a multiple of the configured limit. */
const sizes: Readonly<Record<FileSent, number>> = { log: 1, circuit: 1, vehicles: 1 / 4, school: 32 }

/** Files on their way at a time: by one link, by one account, by all. */
const AT_ONCE = { link: 1, account: 3, all: 8 }

/** Bytes that links may bring within a day: one link, all of them together. */
const QUOTA = { link: 400 * 1024 ** 2, links: 4 * 1024 ** 3 }

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
export const uploadGate = (uploadLimit: number, storage: Pick<StorageWatch, 'check'>, here: Pick<Present, 'enter' | 'spend'>) => ({
  /** Does some work with a file; `work` is given the largest size that the file may have (bytes). */
  during: async <T>(endpoint: Endpoint, identity: Identity, req: Request, work: (limit: number) => Promise<T>): Promise<T> => {
    const limit = Math.round(sizes[endpoint.file ?? 'log'] * uploadLimit)
    const byLink = permissionOf(endpoint).who === 'link'
    const key = byLink ? `link ${hashOfToken(String(req.params.token))}` : identity.key
    const leave = await here.enter([
      ['files', AT_ONCE.all],
      [`files of ${key}`, byLink ? AT_ONCE.link : AT_ONCE.account],
    ])
    if (!leave) throw tooMany()
    try {
      // A body without a length may become as large as its kind allows.
      const size = Math.min(limit, Number(req.headers['content-length'] ?? limit))
      const quotas = [
        [`files of ${key}`, QUOTA.link],
        ['files of links', QUOTA.links],
      ] as const
      if (byLink && !(await here.spend(quotas, size))) throw overQuota()
      const { free_bytes } = await storage.check()
      if (free_bytes !== null && free_bytes < 3 * size + KEPT_FREE) throw noRoom()
      return await work(limit)
    } finally {
      leave()
    }
  },
})
export type UploadGate = ReturnType<typeof uploadGate>
