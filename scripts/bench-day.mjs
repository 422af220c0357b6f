// Plans of made-up days: seconds until nothing is left out, cost, proven bound and gap; spread over ten seeds; clashes; plans anew after
// a change; tiny days against all their plans; days of all kinds against a checker of its own. Prints JSON.
// Arguments: seconds of each search (20), "short" for fewer days.
import { runBench } from './bundle.mjs'

const [seconds = '20', short = ''] = process.argv.slice(2)
process.stdout.write(`${JSON.stringify(await runBench('day', [seconds, short]), null, 1)}\n`)
