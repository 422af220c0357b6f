import { describe, expect, it } from 'vitest'
import { circleCsv, circuitFile, demoPlan, fixtureCircuit, gripOnly, reference, vehicle, vehicles } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/build-circuit.ts'
import { readCircuit } from '../formats/read-circuit.ts'
import { centreLine } from '../path/line.ts'
import { GRAVITY_MPS2 as g } from '../units/constants.ts'
import { uniformGrip } from './grip.ts'
import { solveProfile } from './solve-profile.ts'

describe('speed profile', () => {
  it('is √(μ g R) on a flat circle to 1e-6', () => {
    const circuit = buildCircuit(readCircuit(circleCsv(50, { points: 2500 }), 'circle'))
    const profile = solveProfile(circuit, centreLine(circuit), gripOnly(), { grip: uniformGrip(1) })
    const expected = Math.sqrt(g * 50)
    for (const v of profile.speed_mps) expect(Math.abs(v / expected - 1)).toBeLessThan(1e-6)
    expect(profile.termination).toBe('converged')
  })

  it.each(reference.circle)('agrees with the reference circle: $vehicle at λ $lambda', ({ vehicle: id, lambda, centreline }) => {
    const circuit = fixtureCircuit('circle-r50.csv')
    const line = centreLine(circuit)
    const profile = solveProfile(circuit, line, vehicle(id), { grip: uniformGrip(lambda) })
    expect(Math.abs(profile.lapTime_s / centreline.lapTime_s - 1)).toBeLessThan(2e-4)
    const bare = solveProfile(circuit, line, vehicle(id, { dragArea_m2: 0, liftArea_m2: 0, rolling: 0 }), { grip: uniformGrip(lambda) })
    expect(Math.abs(bare.lapTime_s / centreline.lapTimeNoDragNoLift_s - 1)).toBeLessThan(2e-4)
  })

  it('brakes over (v₀² − v₁²)/(2 μ g) on a straight, to 0.1 %', () => {
    const circuit = fixtureCircuit('stadium.csv')
    const cap_mps = new Float64Array(circuit.count).fill(30)
    // A wall of 10 m/s half-way down the straight that begins the lap.
    const wall = Math.round(100 / circuit.step_m)
    cap_mps[wall] = 10
    const profile = solveProfile(circuit, centreLine(circuit), gripOnly({ muX: 0.8, muY: 3 }), { grip: uniformGrip(1), cap_mps })
    const decel = 0.8 * g
    for (let i = wall - 1; circuit.s_m[wall] - circuit.s_m[i] < 45; i--) {
      const distance = (profile.speed_mps[i] ** 2 - 100) / (2 * decel)
      expect(Math.abs(distance / (circuit.s_m[wall] - circuit.s_m[i]) - 1)).toBeLessThan(1e-3)
    }
  })

  it('follows v₁³ − v₀³ = 3P(s₁ − s₀)/m at constant power, to 0.5 %', () => {
    const circuit = fixtureCircuit('stadium.csv')
    const cap_mps = new Float64Array(circuit.count).fill(Number.POSITIVE_INFINITY)
    const wall = Math.round(10 / circuit.step_m)
    cap_mps[wall] = 12
    const car = gripOnly({ power_W: 60_000, mass_kg: 1200, muX: 3, muY: 3 })
    const profile = solveProfile(circuit, centreLine(circuit), car, { grip: uniformGrip(1), cap_mps })
    for (let i = wall + 10; circuit.s_m[i] < 140; i++) {
      const expected = Math.cbrt(12 ** 3 + (3 * 60_000 * (circuit.s_m[i] - circuit.s_m[wall])) / 1200)
      expect(Math.abs(profile.speed_mps[i] / expected - 1)).toBeLessThan(5e-3)
    }
  })

  it.each(reference.laps)('agrees with the reference centreline of $circuit, $vehicle, λ $lambda', (lap) => {
    const circuit = fixtureCircuit(circuitFile(lap.circuit))
    const profile = solveProfile(circuit, centreLine(circuit), vehicle(lap.vehicle), { grip: uniformGrip(lap.lambda) })
    // The stadium's arcs begin abruptly: there the spline's ripple at 5 m points is worth a third of a per cent.
    expect(Math.abs(profile.lapTime_s / lap.centreline.lapTime_s - 1)).toBeLessThan(lap.circuit === 'stadium' ? 4e-3 : 1.2e-3)
  })

  it('never asks for more grip than the pace allows, and is never slower with more', () => {
    let last = Number.POSITIVE_INFINITY
    for (const pace of [0.45, 0.6, 0.75, 0.85, 0.92]) {
      const plan = demoPlan({ pace, school: 'trail' })
      const max = plan.profile.gripUsed.reduce((m, v) => Math.max(m, v), 0)
      expect(max).toBeLessThan(pace * 1.05)
      expect(plan.profile.lapTime_s).toBeLessThan(last)
      last = plan.profile.lapTime_s
    }
  })

  it('is slower the wetter it is, for every vehicle', () => {
    for (const { id } of vehicles) {
      const times = (['dry', 'damp', 'wet', 'standing'] as const).map(
        (surface) => demoPlan({ surface, pace: 0.9, school: 'trail' }, id).profile.lapTime_s,
      )
      expect(times).toEqual([...times].sort((a, b) => a - b))
    }
  })

  it('does not depend on where the lap begins', () => {
    const text = circleCsv(70, { points: 100 }).split('\n')
    const turned = [text[0], ...text.slice(30), ...text.slice(1, 30)].join('\n')
    const time = (csv: string): number => {
      const circuit = buildCircuit(readCircuit(csv, 'x'))
      return solveProfile(circuit, centreLine(circuit), vehicle('coupe'), { grip: uniformGrip(0.8) }).lapTime_s
    }
    expect(time(turned)).toBeCloseTo(time(text.join('\n')), 6)
  })
})
