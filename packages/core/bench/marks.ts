import { brakeMarkFaults } from '../fixtures/brake-zones.ts'
import { randomPlans } from '../fixtures/random-plans.ts'

// Brake marks of random plans against the braking that the plans contain. Arguments: seed, number of plans. Prints JSON.
const [seed = 1, count = 10_000] = process.argv.slice(2).map(Number)
const counts = { plans: 0, zones: 0, missing: 0, wrong: 0, 'past turn-in': 0 }
const examples: unknown[] = []
for (const plan of randomPlans(seed, count)) {
  counts.plans++
  const { zones, faults } = brakeMarkFaults(plan)
  counts.zones += zones
  for (const fault of faults) {
    counts[fault.fault]++
    if (examples.length < 12)
      examples.push({ ...fault, circuit: plan.circuit.name, length_m: plan.circuit.length_m, vehicle: plan.vehicle.id, ...plan.settings })
  }
}
process.stdout.write(`${JSON.stringify({ seed, ...counts, examples })}\n`)
