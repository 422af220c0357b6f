import { open, rm, statfs } from 'node:fs/promises'
import { join } from 'node:path'
import type { StorageState } from '@ochote/contract'

/** What keeps anything new from being stored. */
export type StorageProblem = NonNullable<StorageState['problem']>

/** Below both of these the disk counts as nearly full. */
const LOW_BYTES = 2 * 1024 ** 3
const LOW_SHARE = 0.1

/** Written to see whether there is space again: more than any touch, less than would disturb. */
const PROBE = Buffer.alloc(256 * 1024)

/** Codes by which the file system and the database say that they cannot write. */
const problemOfCode: Readonly<Record<string, StorageProblem>> = {
  ENOSPC: 'disk-full',
  EDQUOT: 'disk-full',
  EFBIG: 'disk-full',
  SQLITE_FULL: 'disk-full',
  // PostgreSQL: its disk is full.
  '53100': 'disk-full',
  EROFS: 'disk-read-only',
  SQLITE_READONLY: 'disk-read-only',
  SQLITE_CANTOPEN: 'disk-read-only',
}

/** What a failed write says of the disk; null for an error that has nothing to do with it. */
export const storageProblemOf = (error: unknown): StorageProblem | null => {
  const code = (error as { code?: unknown } | null)?.code
  if (typeof code !== 'string') return null
  const known = Object.keys(problemOfCode).find((prefix) => code === prefix || code.startsWith(`${prefix}_`))
  if (known) return problemOfCode[known]
  return code.startsWith('SQLITE_IOERR') ? 'disk-full' : null
}

/** Writes and removes a small file, as the only sure way to learn whether the disk takes anything. */
const probe = async (folder: string): Promise<void> => {
  const path = join(folder, '.probe')
  const file = await open(path, 'w')
  try {
    await file.write(PROBE)
    await file.sync()
  } finally {
    await file.close()
    await rm(path, { force: true })
  }
}

/** Room of the disk of a folder (bytes). */
const roomOf = async (folder: string): Promise<{ free_bytes: number; size_bytes: number }> => {
  const { bavail, blocks, bsize } = await statfs(folder)
  return { free_bytes: bavail * bsize, size_bytes: blocks * bsize }
}

/**
 * Watches the disk of the data folder. A failed write sets the problem; it ends once something can be written again.
 * `onChange` is called back whenever the state is another one; `warns`: whether little room is told.
 */
export const storageWatch = (
  folder: string,
  { onChange = () => {}, warns = true }: { onChange?: (state: StorageState) => void; warns?: boolean } = {},
  every_ms = 15_000,
) => {
  let state: StorageState = { problem: null, low: false, free_bytes: null }
  const set = (next: StorageState): void => {
    const changed = next.problem !== state.problem || next.low !== state.low
    state = next
    if (changed) onChange(next)
  }
  const failed = (error: unknown): StorageProblem | null => {
    const problem = storageProblemOf(error)
    if (problem) set({ ...state, problem })
    return problem
  }
  const check = async (): Promise<StorageState> => {
    const room = await roomOf(folder).catch(() => null)
    const low = warns && room !== null && (room.free_bytes < LOW_BYTES || room.free_bytes < LOW_SHARE * room.size_bytes)
    let problem = state.problem
    if (problem !== null || (room !== null && room.free_bytes < 4 * PROBE.length))
      problem = await probe(folder).then(
        () => null,
        (error: unknown) => storageProblemOf(error) ?? state.problem,
      )
    set({ problem, low, free_bytes: room?.free_bytes ?? null })
    return state
  }
  const timer = setInterval(() => void check(), every_ms)
  timer.unref()
  return {
    /** Tells of a write that failed; what it says of the disk, null for nothing. */
    failed,
    /** Looks at the disk now. */
    check,
    state: (): StorageState => state,
    close: (): void => clearInterval(timer),
  }
}
export type StorageWatch = ReturnType<typeof storageWatch>
