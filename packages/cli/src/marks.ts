import {
  type CornerMetrics,
  cornerMetrics,
  cornerRemarks,
  cornerWarnings,
  degrees,
  findGroups,
  makePlan,
  markOf,
  type Plan,
  shiftPoints,
} from '@ochote/core'
import { methodOption } from './line.ts'
import { type Options, reportTiming, studentSettingsOption, vehicleOption, venueOption, writeOut } from './options.ts'

const round = (value: number, digits: number): number => Number(value.toFixed(digits))

const straightOn = (check: CornerMetrics['straightOn']) =>
  check && {
    road_to_edge_m: round(check.toEdge_m, 0),
    run_off: check.runOff && { surface: check.runOff.surface, length_m: check.runOff.length_m },
    cases: check.cases.map((c) => ({
      late_s: c.late_s,
      turn_in_speed_mps: round(c.turnInSpeed_mps, 2),
      edge_speed_mps: round(c.edgeSpeed_mps, 2),
      needs_m: round(c.needs_m, 1),
      stops: c.stops,
    })),
    ...(check.mitigation ? { mitigation: { brake_earlier_m: check.mitigation.brakeEarlier_m, pace: check.mitigation.pace } } : {}),
  }

const describeCorner = (plan: Plan, numbers: CornerMetrics, k: number) => {
  const corner = plan.corners[k]
  const { worth, grace, sight } = numbers
  return {
    id: corner.id,
    name: corner.name,
    side: corner.side,
    shape: corner.shape,
    start_m: round(corner.start_m, 1),
    end_m: round(corner.end_m, 1),
    radius_m: round(corner.radius_m, 1),
    turn_deg: round(degrees(corner.turn_rad), 1),
    purpose: worth.purpose,
    price_s_per_mps: round(worth.price_spmps, 4),
    price_rank: worth.rank,
    entry_gain_s: round(worth.entryGain_s, 4),
    exit_risk_s: round(worth.exitRisk_s, 4),
    grace: grace && { metres_m: round(grace.metres_m, 1), time_s: round(grace.time_s, 3) },
    straight_on: straightOn(numbers.straightOn),
    warnings: cornerWarnings(numbers),
    remarks: cornerRemarks(numbers),
    marks: plan.marks
      .filter((m) => m.cornerId === corner.id)
      .map((m) => ({
        kind: m.kind,
        s_m: round(m.station_m, 1),
        n_m: round(m.offset_m, 2),
        v_mps: round(m.speed_mps, 2),
        gear: m.gear,
        t_s: round(m.time_s, 3),
        seen_before_s: round(sight.find((s) => s.kind === m.kind)?.time_s ?? 0, 1),
      })),
  }
}

/** `ochote marks`: every corner with its marks, purpose, price, grace, straight-on check and sight, as JSON. */
export const marks = async (options: Options): Promise<void> => {
  let began = performance.now()
  const venue = await venueOption(options)
  const importing = performance.now() - began
  const settings = { ...studentSettingsOption(options), method: methodOption(options, 'smoothest') }
  const vehicle = await vehicleOption(options)
  began = performance.now()
  const plan = makePlan(venue, vehicle, settings)
  const planning = performance.now() - began
  began = performance.now()
  const numbers = cornerMetrics(plan)
  reportTiming(options, { import: importing, plan: planning, marks: performance.now() - began })
  const result = {
    circuit: { name: plan.circuit.name, length_m: round(plan.circuit.length_m, 1) },
    vehicle: vehicle.id,
    surface: settings.surface,
    pace: settings.pace,
    school: settings.school,
    method: settings.method,
    lap_time_s: round(plan.profile.lapTime_s, 3),
    groups: findGroups(plan.circuit, plan.corners),
    corners: numbers.map((n, k) => describeCorner(plan, n, k)),
    shifts: shiftPoints(plan).map((s) => ({
      s_m: round(s.station_m, 1),
      from: s.from,
      to: s.to,
      engine_rpm: Math.round(s.engineSpeed_rpm),
    })),
    braked_corners: plan.corners.filter((c) => markOf(plan.marks, c.id, 'brake')).length,
  }
  await writeOut(options, `${JSON.stringify(result, null, 1)}\n`)
}
