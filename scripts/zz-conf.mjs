import { runBench, withFixtures } from '/work/main/scripts/bundle.mjs'
const [students, name, against] = process.argv.slice(2)
const r = await runBench('findings', [students, '1', name, against], { options: withFixtures })
for (const x of r.rows) console.log(x.log, x.reference, 'tell', x.tellable, 'found', x.found.toFixed(2), 'meant', x.foundAsMeant.toFixed(2), 'prec', x.precision.toFixed(2), 'false', x.falsePerCleanLap.toFixed(2), 'made', x.made)
for (const [c, f] of Object.entries(r.confusion).sort()) console.log(c, JSON.stringify(f))
