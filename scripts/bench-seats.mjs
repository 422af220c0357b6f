// People placed exactly in the sessions of plans of made-up days: cost before and after, whether that is proven, seconds. Prints JSON.
import { runBench } from './bundle.mjs'

process.stdout.write(`${JSON.stringify(await runBench('seats', [], { options: { external: ['highs'] } }), null, 1)}\n`)
