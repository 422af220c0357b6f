import { describe, expect, it } from 'vitest'
import { circuitFile, fixtureCircuit, fixtureText, kartSurvey, reference, vehicle } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/build-circuit.ts'
import { readCircuit } from '../formats/read-circuit.ts'
import { uniformGrip } from '../profile/grip.ts'
import { solveProfile } from '../profile/solve-profile.ts'
import { bandTimes } from '../solve/banded.ts'
import { offsetBounds } from './bounds.ts'
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

  it.each([0.55, 0.75, 1])('is within 0.2 % of one on stations of a quarter of the spacing on a kart track of waves %f', (waves) => {
    const survey = kartSurvey(waves)
    const usual = buildCircuit(survey)
    const fine = buildCircuit(survey, { step_m: usual.step_m / 4 })
    expect(time(usual, 'kart', 0.75) / time(fine, 'kart', 0.75)).toBeLessThan(1.002)
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
  const values = (x: Float64Array): Float64Array => {
    const c = new Float64Array(problem.constraints)
    expect(problem.evaluate(x, c)).toBeGreaterThan(0)
    return c
  }

  const mu = 0.01
  /** The Newton system at the point, and the barrier function that it belongs to. */
  const system = () => {
    const x = point()
    const c = values(x)
    expect(c.every((value) => value > 0)).toBe(true)
    const hessian = emptyLapHessian(problem)
    const gradient = new Float64Array(hessian.count)
    problem.assemble(
      x,
      c,
      c.map((value) => mu / value),
      mu,
      hessian,
      gradient,
    )
    return { x, hessian, gradient }
  }
  const barrier = (x: Float64Array): number => {
    const c = new Float64Array(problem.constraints)
    return problem.evaluate(x, c) - mu * c.reduce((sum, value) => sum + Math.log(value), 0)
  }
  const along = (x: Float64Array, dx: Float64Array, by: number): Float64Array => x.map((value, k) => value + by * dx[k])
  const completed = (step: Float64Array) => {
    const dx = new Float64Array(problem.unknowns)
    const slope = new Float64Array(problem.constraints)
    return { dx, slope, added: problem.complete(step, dx, slope) }
  }
  const dot = (a: Float64Array, b: Float64Array): number => a.reduce((sum, value, k) => sum + value * b[k], 0)

  it('has slopes of the barrier function and of all constraints that finite differences confirm', () => {
    const { x, gradient } = system()
    for (const phase of [0, 1, 2]) {
      const step = gradient.map((_, k) => Math.sin(3 * k + phase) * (k % 2 === 1 ? 1 : 0.1))
      const { dx, slope, added } = completed(step)
      const h = 1e-6
      const difference = (barrier(along(x, dx, h)) - barrier(along(x, dx, -h))) / (2 * h)
      expect(Math.abs(dot(gradient, step) + added - difference)).toBeLessThan(1e-4 * Math.abs(difference))
      const [ahead, behind] = [values(along(x, dx, h)), values(along(x, dx, -h))]
      for (let k = 0; k < slope.length; k++) {
        const change = (ahead[k] - behind[k]) / (2 * h)
        expect(Math.abs(slope[k] - change)).toBeLessThan(1e-3 + 1e-4 * Math.abs(change))
      }
    }
  })

  it('gives drive its best: no other step of it lowers the quadratic model further', () => {
    const { x, gradient } = system()
    const { dx } = completed(new Float64Array(gradient.length))
    // With offsets and speeds held, Newton on drive alone must lower the barrier function, and twice as far less so.
    const fall = (by: number): number => barrier(along(x, dx, by)) - barrier(x)
    expect(fall(0.01)).toBeLessThan(0)
    expect(fall(0.02) - 2 * fall(0.01)).toBeGreaterThan(0)
  })

  it('has a Hessian of speeds that second differences confirm', () => {
    const { x, hessian, gradient } = system()
    // Offsets leave out the second derivative of curvature, so they are held.
    const step = gradient.map((_, k) => (k % 2 === 0 ? 0 : Math.cos(k)))
    const { dx, added } = completed(step)
    const h = 1e-4
    const difference = (barrier(along(x, dx, h)) - 2 * barrier(x) + barrier(along(x, dx, -h))) / h ** 2
    const times = step.reduce((sum, value, k) => sum + value * bandTimes(hessian, step, k), 0)
    expect(Math.abs(times - added - difference)).toBeLessThan(1e-3 * Math.abs(difference))
  })
})
