import { describe, expect, it } from 'vitest'
import { serverInWords } from './server-state.ts'

const well = {
  storage: { problem: null, low: false, free_bytes: 80e9 },
  held: { lines: 0, dropped: 0 },
  clock: { ahead_ms: 0, doubtful: false },
  backupFailed: false,
}

describe('what screens say of the server’s disk', () => {
  it('is nothing while all is well', () => {
    expect(serverInWords(well)).toEqual([])
    // Positions wait for a second at a time: that is no news.
    expect(serverInWords({ ...well, held: { lines: 40, dropped: 0 } })).toEqual([])
  })

  it('is a warning with what is free while there is little', () => {
    expect(serverInWords({ ...well, storage: { problem: null, low: true, free_bytes: 1.44e9 } })).toEqual([
      expect.stringContaining('nearly full (1.4 GB free)'),
    ])
  })

  it('names what keeps it from storing, what waits, and what was lost', () => {
    const full = {
      storage: { problem: 'disk-full' as const, low: true, free_bytes: 0 },
      held: { lines: 900, dropped: 3 },
      clock: well.clock,
      backupFailed: true,
    }
    // A full disk is why the backup failed: said once.
    expect(serverInWords(full)).toEqual([
      expect.stringContaining('disk is full'),
      expect.stringContaining('900 positions wait'),
      expect.stringContaining('3 positions'),
    ])
    expect(serverInWords({ ...full, storage: { ...full.storage, problem: 'disk-read-only' } })[0]).toContain('cannot write')
  })

  it('tells of a backup that failed', () => {
    expect(serverInWords({ ...well, backupFailed: true })).toEqual([expect.stringContaining('backup could not be made')])
  })

  it('tells of a clock that was set, and of one that is known to be wrong', () => {
    const day_ms = 86_400_000
    expect(serverInWords({ ...well, clock: { ahead_ms: 15 * day_ms, doubtful: true } })).toEqual([
      expect.stringContaining('set by +15 days'),
    ])
    expect(serverInWords({ ...well, clock: { ahead_ms: -3_600_000, doubtful: false } })).toEqual([
      expect.stringContaining('wrong by −1.0 hours'),
    ])
  })
})
