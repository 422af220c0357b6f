import { describe, expect, it } from 'vitest'
import { circuitFile, fixtureCircuit, fixtureText, reference, vehicle } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/circuit.ts'
import { readCircuit } from '../formats/read-circuit.ts'
import { uniformGrip } from '../profile/grip.ts'
import { solveProfile } from '../profile/profile.ts'
import { offsetBounds } from './bounds.ts'
import { bandTimes } from './box-program.ts'
import { fastestLine } from './fastest.ts'
import { emptyLapHessian, lapProblem } from './lap-problem.ts'
import { smoothestLine } from './smoothest.ts'

const lobes = fixtureCircuit('lobes.csv')
const time = (circuit = lobes, id = 'hatchback', lambda = 1): number => {
  const car = vehicle(id)
  const { line } = fastestLine(circuit, car, uniformGrip(lambda), offsetBounds(circuit, car.width_m))
  return solveProfile(circuit, line, car, { grip: uniformGrip(lambda) }).lapTime_s
}

describe('the fastest line', () => {
  it.each(reference.laps)('comes within 0.15 % of the optimal lap on $circuit with $vehicle at λ $lambda', (lap) => {
    const ratio = time(fixtureCircuit(circuitFile(lap.circuit)), lap.vehicle, lap.lambda) / lap.optimal.lapTime_s
    expect(ratio).toBeLessThan(1.0015)
    // The optimum itself is known to 0.1 %: much less would mean another road than the reference's.
    expect(ratio).toBeGreaterThan(0.999)
  })

  it('stays between its bounds and ends by itself', () => {
    const car = vehicle('coupe')
    const bounds = offsetBounds(lobes, car.width_m, 0.8)
    const { line, termination } = fastestLine(lobes, car, uniformGrip(0.8), bounds)
    expect(termination).toBe('converged')
    for (let i = 0; i < lobes.count; i++) {
      expect(line.offset_m[i]).toBeGreaterThanOrEqual(bounds.low_m[i] - 1e-9)
      expect(line.offset_m[i]).toBeLessThanOrEqual(bounds.high_m[i] + 1e-9)
    }
  })

  it('is not slower by more than 0.1 % on a wider road, nor with more grip', () => {
    const survey = readCircuit(fixtureText('lobes.csv'), 'lobes')
    const wider = (by_m: number) =>
      buildCircuit({
        ...survey,
        widthLeft_m: survey.widthLeft_m.map((w) => w + by_m),
        widthRight_m: survey.widthRight_m.map((w) => w + by_m),
      })
    const widths = [0, 0.4, 1].map((by) => time(wider(by)))
    for (let i = 1; i < widths.length; i++) expect(widths[i]).toBeLessThan(widths[i - 1] * 1.001)
    const grips = [0.6, 0.75, 0.9].map((lambda) => time(lobes, 'roadster', lambda))
    for (let i = 1; i < grips.length; i++) expect(grips[i]).toBeLessThan(grips[i - 1])
  })

  it('is a lap that only gets better on the way, and can be stopped', () => {
    const car = vehicle('hatchback')
    const costs: number[] = []
    const solution = fastestLine(lobes, car, uniformGrip(1), offsetBounds(lobes, car.width_m), {
      onStep: (step, cost_s) => {
        costs.push(cost_s)
        return step < 6
      },
    })
    expect(solution.termination).toBe('cancelled')
    expect(costs).toHaveLength(6)
    expect(costs[5]).toBeLessThan(costs[0])
  })

  it('cannot exist where no slow lap keeps the limits, and says where', () => {
    const feeble = vehicle('kart', { power_W: 1000, mass_kg: 5000 })
    const circuit = fixtureCircuit('ostrel-mere.csv')
    expect(() => fastestLine(circuit, feeble, uniformGrip(0.05), offsetBounds(circuit, 1.4))).toThrow(
      expect.objectContaining({ code: 'lap-not-drivable', place: expect.stringMatching(/^station \d+ m$/) }),
    )
  })
})

describe('the least-time lap as a program', () => {
  const car = vehicle('single-seater')
  const circuit = buildCircuit(readCircuit(fixtureText('ostrel-mere-short.csv'), 'short'), { step_m: 12 })
  const bounds = offsetBounds(circuit, car.width_m)
  const problem = lapProblem(circuit, car, uniformGrip(0.8), bounds)
  const smooth = smoothestLine(circuit, bounds).line
  /** A slow lap inside all limits. */
  const point = (): Float64Array => {
    const x = new Float64Array(problem.unknowns)
    for (let i = 0; i < circuit.count; i++) x.set([0.8 * smooth.offset_m[i], 90 + 8 * Math.sin(i / 5), 2.5], 3 * i)
    return x
  }
  const moved = (x: Float64Array, k: number, by: number): Float64Array => {
    const y = Float64Array.from(x)
    y[k] += by
    return y
  }
  const values = (x: Float64Array): Float64Array => {
    const c = new Float64Array(problem.constraints)
    expect(problem.evaluate(x, c)).toBe(true)
    return c
  }

  it('has gradients that finite differences confirm', () => {
    const x = point()
    const mu = 0.01
    const hessian = emptyLapHessian(problem)
    const gradient = new Float64Array(problem.unknowns)
    const c = values(x)
    expect(c.every((value) => value > 0)).toBe(true)
    problem.assemble(
      x,
      c.map((value) => mu / value),
      mu,
      hessian,
      gradient,
    )
    const merit = (y: Float64Array): number => problem.cost(y) - mu * values(y).reduce((sum, value) => sum + Math.log(value), 0)
    for (const k of [0, 1, 2, 90, 91, 92, 201, 202, 203, problem.unknowns - 3, problem.unknowns - 2, problem.unknowns - 1]) {
      const h = 1e-5
      const difference = (merit(moved(x, k, h)) - merit(moved(x, k, -h))) / (2 * h)
      expect(Math.abs(gradient[k] - difference)).toBeLessThan(1e-5 + 1e-4 * Math.abs(difference))
    }
  })

  it('has slopes of constraints that finite differences confirm', () => {
    const x = point()
    const dx = Float64Array.from(x, (_, k) => Math.sin(3 * k) * (k % 3 === 1 ? 1 : 0.1))
    const slopes = new Float64Array(problem.constraints)
    problem.slopes(x, dx, slopes)
    const h = 1e-5
    const along = (by: number): Float64Array => values(x.map((value, k) => value + by * dx[k]))
    const [ahead, behind] = [along(h), along(-h)]
    for (let k = 0; k < slopes.length; k++) {
      const difference = (ahead[k] - behind[k]) / (2 * h)
      expect(Math.abs(slopes[k] - difference)).toBeLessThan(1e-3 + 1e-4 * Math.abs(difference))
    }
  })

  it('has a Hessian that predicts how the gradient changes with speed and drive', () => {
    const x = point()
    const mu = 0.02
    const z = values(x).map((value) => mu / value)
    const at = (y: Float64Array): { hessian: Float64Array[]; gradient: Float64Array } => {
      const hessian = emptyLapHessian(problem)
      const gradient = new Float64Array(problem.unknowns)
      problem.assemble(y, z, mu, hessian, gradient)
      return { hessian, gradient }
    }
    const { hessian } = at(x)
    const direction = Float64Array.from(x, (_, k) => (k % 3 === 0 ? 0 : Math.cos(k)))
    const h = 1e-5
    const ahead = at(x.map((value, k) => value + h * direction[k])).gradient
    const behind = at(x.map((value, k) => value - h * direction[k])).gradient
    for (let k = 0; k < problem.unknowns; k++) {
      // Offsets leave out the second derivative of curvature, so their rows are not exact.
      if (k % 3 === 0) continue
      const difference = (ahead[k] - behind[k]) / (2 * h)
      expect(Math.abs(bandTimes(hessian, direction, k) - difference)).toBeLessThan(1e-5 + 1e-3 * Math.abs(difference))
    }
  })
})
