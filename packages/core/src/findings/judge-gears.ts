import { atTravel, firstAtOrAbove, type Trajectory } from '../drive/trajectory.ts'
import type { Comparison, Report } from './comparison.ts'

/** Gear of a trajectory at a travelled distance, or null where it is not known. */
const gearAt = (trajectory: Trajectory, at_m: number): number | null => {
  const { gear, travel_m } = trajectory.inputs
  if (!gear) return null
  const value = gear[Math.min(Math.max(0, firstAtOrAbove(travel_m, at_m) - 1), gear.length - 1)]
  return Number.isFinite(value) && value > 0 ? Math.round(value) : null
}

/** Around a mark gears are compared for this many tenths of a second to either side. */
const LOOK_STEPS = 15

/** The downshifts between two places, with the longest pause between two of them (s) and where it was. */
const downshifts = ({ inputs: { travel_m, time_s, gear } }: Trajectory, from_m: number, to_m: number) => {
  const gears: number[] = []
  let longest = { pause_s: 0, from_m, to_m }
  let last = -1
  let held = Number.NaN
  for (let i = firstAtOrAbove(travel_m, from_m); gear && i < gear.length && travel_m[i] <= to_m; i++) {
    // Between two gears some cars show none.
    if (!(gear[i] > 0)) continue
    const now = Math.round(gear[i])
    if (now < held) {
      if (last >= 0 && time_s[i] - time_s[last] > longest.pause_s)
        longest = { pause_s: time_s[i] - time_s[last], from_m: travel_m[last], to_m: travel_m[i] }
      last = i
    }
    if (now !== held) gears.push(now)
    held = now
  }
  return { gears, ...longest }
}

/** Downshifts of one zone that lie further apart than the reference's. Where other gears are used nothing can be compared. */
const judgePauses = (c: Comparison, report: Report): void => {
  const { driven, reference, start_m, referenceStart_m, uncertainty, thresholds: t } = c
  if (!driven.brake || !reference.brake) return
  const until = (release_m: number, turnIn_m: number | null): number => Math.max(release_m, turnIn_m ?? release_m)
  const own = downshifts(
    c.trajectory,
    driven.brake.onset.at_m,
    until(driven.brake.release.at_m, driven.turnIn_m === null ? null : start_m + driven.turnIn_m),
  )
  const due = downshifts(
    c.referenceTrajectory,
    reference.brake.onset.at_m,
    until(reference.brake.release.at_m, reference.turnIn_m === null ? null : referenceStart_m + reference.turnIn_m),
  )
  if (own.gears.length < 3 || own.gears.join() !== due.gears.join()) return
  report.found(
    'shift-slow',
    { from_m: own.from_m - start_m, to_m: own.to_m - start_m },
    own.pause_s - due.pause_s,
    { own: t.shiftSlow_s, uncertainty: uncertainty.time_s },
    { pause_s: own.pause_s, referencePause_s: due.pause_s, allowed_s: t.shiftSlow_s + uncertainty.time_s },
  )
}

/** Gears at turn-in, in the middle and at the exit, against the reference's there. */
export const judgeGears = (c: Comparison, report: Report): void => {
  judgePauses(c, report)
  const { trajectory, start_m, referenceTrajectory, referenceStart_m, reference, frame, uncertainty, thresholds: t } = c
  const driven = (at_m: number): number | null => gearAt(trajectory, start_m + at_m)
  const wanted = (at_m: number): number | null => gearAt(referenceTrajectory, referenceStart_m + at_m)
  /** Gears that differ at a mark, for how long around it, and how much of that may be the place of the change. */
  const differs = (at_m: number) => {
    const [mine, theirs] = [driven(at_m), wanted(at_m)]
    if (mine === null || theirs === null || mine === theirs) return null
    const speed_mps = atTravel(trajectory, trajectory.speed_mps, start_m + at_m)
    const step_m = 0.1 * speed_mps
    const alike = (by_m: number): boolean => driven(at_m + by_m) === wanted(at_m + by_m)
    let timeBetween_s = 0
    for (const direction of [-1, 1]) for (let k = 1; k <= LOOK_STEPS && !alike(direction * k * step_m); k++) timeBetween_s += 0.1
    const bound = { own: t.shift_s, uncertainty: Math.hypot(uncertainty.time_s, uncertainty.along_m(speed_mps) / Math.max(5, speed_mps)) }
    return timeBetween_s > bound.own + bound.uncertainty ? { own: mine, wanted: theirs, timeBetween_s, bound } : null
  }
  // Speeds say more surely than paths where the middle is; a corner of even speed has it half-way to the apex.
  const turnIn_m = reference.turnIn_m ?? frame.turnIn_m
  const middle_m = Math.max(reference.slowest_m, (turnIn_m + reference.apex_m) / 2)
  const middle = differs(middle_m)
  if (middle) {
    report.found('wrong-gear', { from_m: middle_m, to_m: middle_m }, middle.timeBetween_s, middle.bound, {
      gear: middle.own,
      referenceGear: middle.wanted,
    })
    return
  }
  const turnIn = differs(turnIn_m)
  if (turnIn)
    report.found(
      turnIn.own > turnIn.wanted ? 'shift-late' : 'shift-early',
      { from_m: turnIn_m, to_m: turnIn_m },
      turnIn.timeBetween_s,
      turnIn.bound,
      {
        gear: turnIn.own,
        referenceGear: turnIn.wanted,
      },
    )
  const exit_m = reference.exit_m
  if (exit_m === null) return
  const exit = differs(exit_m)
  if (exit)
    report.found(exit.own > exit.wanted ? 'shift-early' : 'shift-late', { from_m: exit_m, to_m: exit_m }, exit.timeBetween_s, exit.bound, {
      gear: exit.own,
      referenceGear: exit.wanted,
    })
}
