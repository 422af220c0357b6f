import type { PassOff } from '../findings/advice.ts'
import type { MistakeCode } from '../mistakes/mistakes.ts'
import type { Seen } from './focus.ts'
import type { PassKnown } from './passes.ts'

type At = { lap: number; cornerId: string }

/** All that is known of one run: what its log shows, what was logged by hand, and where a person said that it held well. */
export type RunKnown = {
  run: number
  date: string
  pace: number
  findings: readonly (At & { code: MistakeCode; root: boolean; worth_s: number })[]
  observations: readonly (At & { code: MistakeCode })[]
  heldWell: readonly At[]
  /** Passes that the log measured. */
  marks: readonly (At & { off: PassOff | null })[]
}

/** A mistake in one pass, whoever saw it. */
export type SeenAt = Seen & { lap: number }

const at = ({ lap, cornerId }: At): string => `${lap} ${cornerId}`

/**
 * The root of a log's findings that a person saw too: the same mistake of the same pass, or the root that explains it there;
 * undefined where the log shows nothing of it.
 */
export const rootSeenToo = <F extends At & { code: MistakeCode; root: boolean }>(
  findings: readonly F[],
  logged: At & { code: MistakeCode },
): F | undefined => {
  const pass = findings.filter((f) => at(f) === at(logged))
  if (!pass.some((f) => f.code === logged.code)) return undefined
  return pass.find((f) => f.root && f.code === logged.code) ?? pass.find((f) => f.root)
}

/**
 * Joins what the log shows with what people logged: one event when both saw it. A logged consequence belongs to the root that
 * the log names for the same pass; the rest of what was logged stands by itself.
 */
export const joinRun = (known: RunKnown): { seen: SeenAt[]; passes: PassKnown[] } => {
  const { run, date, pace } = known
  const roots = known.findings.filter((f) => f.root)
  const rootFor = (o: At & { code: MistakeCode }) => rootSeenToo(known.findings, o)
  const alone = known.observations.filter((o) => !rootFor(o))
  const both = new Set(known.observations.map(rootFor).filter((f) => f !== undefined))
  const handOnly = new Map(alone.map((o) => [`${at(o)} ${o.code}`, o]))
  const seen: SeenAt[] = [
    ...roots.map((root): SeenAt => {
      const { cornerId, code, lap, worth_s } = root
      return { cornerId, code, run, lap, by: both.has(root) ? 'both' : 'log', worth_s }
    }),
    ...[...handOnly.values()].map(({ cornerId, code, lap }): SeenAt => ({ cornerId, code, run, lap, by: 'hand' })),
  ]
  const measured = new Map(known.marks.map((m) => [at(m), m]))
  const spoken = new Set([...known.observations, ...known.heldWell].map(at))
  const places = new Map<string, At>([...known.marks, ...known.observations, ...known.heldWell].map((p) => [at(p), p]))
  const passes = [...places.entries()].map(([key, { lap, cornerId }]): PassKnown => {
    const mark = measured.get(key)
    const codes = seen.filter((s) => at(s) === key).map((s) => s.code)
    return {
      cornerId,
      run,
      lap,
      date,
      pace,
      watched: mark ? (spoken.has(key) ? 'both' : 'log') : 'seat',
      codes: [...new Set(codes)],
      off: mark?.off ?? null,
    }
  })
  return { seen, passes }
}
