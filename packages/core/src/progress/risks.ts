import { cornerOf } from '../circuit/corners.ts'
import { atStation, isWithin } from '../circuit/station.ts'
import { markOf } from '../marks/mark.ts'
import type { MistakeCode } from '../mistakes/mistakes.ts'
import type { Plan } from '../plan/plan.ts'

/** Taking off this much speed makes the brake point the thing to miss (m/s). */
const MUCH_BRAKING_MPS = 12
/** Less room than this beyond the planned exit is soon used up (m from the vehicle's middle to the edge). */
const LITTLE_EXIT_ROOM_M = 1.8

/** Mistakes that a plan makes likely in a corner, most dangerous first. */
export const planRisks = (plan: Plan, cornerId: string): MistakeCode[] => {
  const { circuit, ground, marks, corners } = plan
  const corner = cornerOf(corners, cornerId)
  const [brake, slowest, turnIn, exit] = (['brake', 'slowest', 'turn-in', 'exit'] as const).map((kind) => markOf(marks, cornerId, kind))
  if (!corner) return []
  const risks: MistakeCode[] = []
  if (brake && slowest && brake.speed_mps - slowest.speed_mps > MUCH_BRAKING_MPS) risks.push('brake-late')
  if (exit) {
    const outer = corner.side === 'left' ? circuit.widthRight_m : circuit.widthLeft_m
    const room_m = atStation(circuit, outer, exit.station_m) - Math.abs(exit.offset_m)
    if (room_m < LITTLE_EXIT_ROOM_M) risks.push('exit-wide')
  }
  const hidden = (s_m: number): boolean =>
    ground.some((g) => (g.kind === 'blind' || g.kind === 'crest') && isWithin(s_m, g.from_m - 60, g.to_m, circuit.length_m))
  if (turnIn && hidden(turnIn.station_m)) risks.push('turn-in-early', 'eyes-near')
  return risks
}
