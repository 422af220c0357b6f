// Fails when an import goes against the arrows of docs/ARCHITECTURE.md, when folders form a ring, when the core's imports
// go too deep, or when the check saw no modules at all: node scripts/check-arrows.mjs [DIR of another checkout]
import { fileURLToPath } from 'node:url'
import { cruise } from 'dependency-cruiser'
import extractConfig from 'dependency-cruiser/config-utl/extract-depcruise-config'
import extractTsConfig from 'dependency-cruiser/config-utl/extract-ts-config'
import { againstLayers } from './layers.mjs'
import { measureWorkspace } from './structure.mjs'

const here = fileURLToPath(new URL('..', import.meta.url))
/** A newcomer reads at most this many files on the way from any file of the core down to its foundation. */
const MAX_CHAIN = 16

process.chdir(process.argv[2] ?? here)
const config = await extractConfig(`${here}/.dependency-cruiser.cjs`)
const { output } = await cruise(
  ['packages'],
  { ...config.options, ruleSet: config, validate: true },
  config.options.enhancedResolveOptions,
  { tsConfig: extractTsConfig('./tsconfig.base.json') },
)
const { violations, totalCruised } = output.summary
const problems = violations.map((v) => `${v.rule.name}: ${v.from} → ${v.to}`)
for (const workspace of ['core', 'web']) {
  const { folderRings, fileRings, longestChain, imports } = measureWorkspace('.', workspace)
  problems.push(...new Set(againstLayers(workspace, imports)))
  for (const ring of [...folderRings, ...fileRings]) problems.push(`ring in ${workspace}: ${ring.join(' ↔ ')}`)
  if (workspace === 'core' && longestChain.length > MAX_CHAIN)
    problems.push(`imports of the core are ${longestChain.length} files deep, more than ${MAX_CHAIN}: ${longestChain.join(' → ')}`)
}
for (const problem of problems) console.error(problem)
if (totalCruised < 50) {
  console.error(`Only ${totalCruised} modules were seen; the check cannot be trusted.`)
  process.exit(1)
}
console.log(`Import arrows: ${totalCruised} modules, ${problems.length} against the arrows`)
process.exit(problems.length > 0 ? 1 : 0)
