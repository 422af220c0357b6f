// Fails when an import goes against the arrows of docs/ARCHITECTURE.md, or when the check saw no modules at all.
import { cruise } from 'dependency-cruiser'
import extractConfig from 'dependency-cruiser/config-utl/extract-depcruise-config'
import extractTsConfig from 'dependency-cruiser/config-utl/extract-ts-config'

const config = await extractConfig('./.dependency-cruiser.cjs')
const { output } = await cruise(
  ['packages'],
  { ...config.options, ruleSet: config, validate: true },
  config.options.enhancedResolveOptions,
  {
    tsConfig: extractTsConfig('./tsconfig.base.json'),
  },
)
const { violations, totalCruised } = output.summary
for (const v of violations) console.error(`${v.rule.name}: ${v.from} → ${v.to}`)
if (totalCruised < 50) {
  console.error(`Only ${totalCruised} modules were seen; the check cannot be trusted.`)
  process.exit(1)
}
console.log(`Import arrows: ${totalCruised} modules, ${violations.length} against the arrows`)
process.exit(violations.length > 0 ? 1 : 0)
