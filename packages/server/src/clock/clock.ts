import { uptime } from 'node:os'

/** A difference between the machine's clock and the time that went by from which the clock was set (ms). */
const JUMP_MS = 2000

/** Devices that differ by less than this agree with each other (ms). */
const AGREE_MS = 5000

/** How often the only device that is heard has to say the same before it is believed. */
const ALONE = 3

/** What a clock goes by: the machine's clock, and one that nobody sets and that goes on while the machine sleeps (both ms). */
type ClockSource = { wall: () => number; steady: () => number }

const machine: ClockSource = { wall: Date.now, steady: () => 1000 * uptime() }

/** What is kept of a clock over a restart. `bootId`: of the machine's start that `steady` counts from. */
export type KeptClock = { now: number; steady: number; bootId: string; correction_ms: number }

/** A time that was decided upon: `shift_ms` is what times stamped from `from` to `to` (by the clock of then) lack. */
export type ClockDecision = { from: number; to: number; shift_ms: number }

export type ClockOptions = {
  source?: ClockSource
  /** The clock as it was last kept, and this machine's start. */
  kept?: KeptClock | null
  bootId?: string
  /** Times stamped in doubt turned out to be wrong. */
  onDecided?: (decision: ClockDecision) => void
}

/**
 * The time of this server. It follows the machine's clock, but not where that is set: then time goes on as it did, and is in doubt until
 * devices say which is right. Two devices that agree decide, or the only one that is heard, saying the same three times.
 */
export const serverClock = ({ source = machine, kept = null, bootId = '', onDecided = () => {} }: ClockOptions = {}) => {
  let correction_ms = 0
  let doubtful = false
  let seen = { wall: source.wall(), steady: source.steady() }
  /** When times began to be stamped as they are now. */
  let from = 0
  const heard = new Map<string, { ahead_ms: number; times: number }>()

  const now = (): number => {
    look()
    return source.wall() + correction_ms
  }
  const doubt = (jump_ms: number): void => {
    correction_ms -= jump_ms
    doubtful = true
    heard.clear()
  }
  /** Compares the machine's clock with the time that went by since the last look. */
  const look = (): void => {
    const [wall, steady] = [source.wall(), source.steady()]
    const jump_ms = wall - seen.wall - (steady - seen.steady)
    seen = { wall, steady }
    if (Math.abs(jump_ms) > JUMP_MS) doubt(jump_ms)
  }
  const decide = (ahead_ms: number): void => {
    const at = now()
    doubtful = false
    heard.clear()
    if (Math.abs(ahead_ms) <= AGREE_MS) return
    onDecided({ from, to: at, shift_ms: ahead_ms })
    correction_ms += ahead_ms
    // The machine's clock has nothing to be corrected for any more, if it agrees.
    if (Math.abs(correction_ms) <= AGREE_MS) correction_ms = 0
    from = source.wall() + correction_ms
  }

  if (kept) {
    const past_ms = kept.bootId === bootId ? seen.steady - kept.steady : 0
    const expected = kept.now + past_ms
    const wall = seen.wall + kept.correction_ms
    correction_ms = kept.correction_ms
    // Since the machine's own start the clock must fit; after another start it must at least not have gone back.
    if ((kept.bootId === bootId && Math.abs(wall - expected) > JUMP_MS) || wall < expected - JUMP_MS) doubt(wall - expected)
  }
  from = seen.wall + correction_ms

  return {
    /** The time (ms since 1970). */
    now,
    /** A device has said what time it has; called with each batch that it sends. */
    heard: (device: string, deviceNow: number): void => {
      look()
      if (!doubtful) return
      const ahead_ms = deviceNow - (source.wall() + correction_ms)
      const before = heard.get(device)
      const same = before && Math.abs(before.ahead_ms - ahead_ms) <= AGREE_MS
      heard.set(device, { ahead_ms, times: same ? before.times + 1 : 1 })
      const agreeing = [...heard.values()].filter((one) => Math.abs(one.ahead_ms - ahead_ms) <= AGREE_MS)
      const others = heard.size - agreeing.length
      if ((agreeing.length >= 2 && agreeing.length > others) || (heard.size === 1 && (agreeing[0]?.times ?? 0) >= ALONE)) decide(ahead_ms)
    },
    /** How far the machine's clock is ahead of the time that is used (ms), and whether that is still in doubt. */
    state: (): { ahead_ms: number; doubtful: boolean } => {
      look()
      return { ahead_ms: 0 - correction_ms, doubtful }
    },
    /** What to keep for the next start. */
    keep: (): KeptClock => ({ now: now(), steady: source.steady(), bootId, correction_ms }),
  }
}
export type ServerClock = ReturnType<typeof serverClock>

let current: ServerClock = serverClock()

/** Makes a clock the one that the whole server goes by. */
export const goBy = (clock: ServerClock): void => {
  current = clock
}

/** The time of this server (ms since 1970). */
export const serverNow = (): number => current.now()

/** The time of this server as it is stored. */
export const serverTime = (): string => new Date(current.now()).toISOString()

/** A device has sent something, and said what time it has. */
export const heardFrom = (device: string, deviceNow: string | undefined): void => {
  if (deviceNow !== undefined) current.heard(device, Date.parse(deviceNow))
}

/** How far the machine's clock is ahead of the time that is used, and whether that is in doubt. */
export const clockState = (): ReturnType<ServerClock['state']> => current.state()
