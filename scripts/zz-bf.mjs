import { runBench, withFixtures } from '/work/main/scripts/bundle.mjs'
const [students, ...names] = process.argv.slice(2)
for (const name of names) { const r = await runBench('findings', [students, '1', name], { options: withFixtures }); for (const x of r.rows) console.log(x.log, x.reference, 'tell', x.tellable, 'found', x.found.toFixed(2), 'meant', x.foundAsMeant.toFixed(2), 'prec', x.precision.toFixed(2), 'false', x.falsePerCleanLap.toFixed(2)); const c = r.confusion; console.log(JSON.stringify(c.nothing)) }
