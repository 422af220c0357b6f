import { cornerOf } from '../circuit/corners.ts'
import { type Mark, markOf } from '../marks/mark.ts'

/**
 * The lap to which a touch about a corner belongs, by where the car is when it is made: past the corner's apex it is the
 * car's lap; before the apex the car has crossed the line since, and the touch is about the lap before. Never below 0,
 * the out lap. Stations in metres from the line; `peak_m` of the corner stands in where the plan has no apex mark.
 */
export const lapOfTouch = (
  plan: { marks: readonly Mark[]; corners: readonly { id: string; peak_m: number }[] },
  cornerId: string,
  { lap, station_m }: { lap: number; station_m: number },
): number => {
  const apex_m = markOf(plan.marks, cornerId, 'apex')?.station_m ?? cornerOf(plan.corners, cornerId)?.peak_m ?? 0
  return station_m >= apex_m ? lap : Math.max(0, lap - 1)
}
