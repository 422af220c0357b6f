// Brake marks of random plans against the braking that the plans contain: circuits, vehicles, surfaces, paces, braking styles and
// lines drawn from a seed. Prints JSON. Arguments: number of plans (10 000), seed (1).
import { runBench, withFixtures } from './bundle.mjs'

const [count = '10000', seed = '1'] = process.argv.slice(2)
process.stdout.write(`${JSON.stringify(await runBench('marks', [seed, count], { options: withFixtures }), null, 1)}\n`)
