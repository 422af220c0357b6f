// Runs every check in turn and ends with one line of counts. Each static check counts as one. --postgres: on that database too.
import { spawnSync } from 'node:child_process'
import { mkdirSync, readFileSync, rmSync } from 'node:fs'
import { startPostgres } from './postgres.mjs'

mkdirSync('.cache', { recursive: true })
const local = (name) => `node_modules/.bin/${name}`
const results = { unit: '.cache/unit.json', e2e: '.cache/e2e.json' }
for (const file of Object.values(results)) rmSync(file, { force: true })

const once = (ok) => ({ passed: ok ? 1 : 0, failed: ok ? 0 : 1 })
const unitCounts = (ok, file = results.unit) => {
  const { numPassedTests, numFailedTests, numFailedTestSuites } = JSON.parse(readFileSync(file, 'utf8'))
  return { passed: numPassedTests, failed: Math.max(numFailedTests, ok ? 0 : 1, numFailedTests === 0 ? numFailedTestSuites : 0) }
}
const e2eCounts = (ok) => {
  const { expected, unexpected, flaky } = JSON.parse(readFileSync(results.e2e, 'utf8')).stats
  return { passed: expected, failed: Math.max(unexpected + flaky, ok ? 0 : 1) }
}

const steps = [
  { name: 'types', run: [local('tsc'), '-b'], count: once },
  { name: 'lint', run: [local('biome'), 'check', '--error-on-warnings', '.'], count: once },
  { name: 'import arrows', run: ['node', 'scripts/check-arrows.mjs'], count: once },
  { name: 'lock file', run: ['node', 'scripts/check-lock.mjs'], count: once },
  { name: 'licences', run: ['node', 'scripts/sbom.mjs', '--licences'], count: once },
  { name: 'unused code', run: [local('knip')], count: once },
  {
    name: 'unit tests',
    run: [local('vitest'), 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${results.unit}`],
    count: unitCounts,
  },
  { name: 'build', run: ['node', 'scripts/build.mjs'], count: once },
  // A short, seeded form of the long fault run.
  { name: 'faults', run: ['node', 'scripts/faults.mjs', '--kills', '5', '--full', '2', '--damaged', '3', '--jumps', '3'], count: once },
  { name: 'end-to-end tests', run: [local('playwright'), 'test', '-c', 'e2e/playwright.config.ts'], count: e2eCounts },
]

// The other database: the server's tests, a short fault run of two processes, and a day through the pages.
const postgres = process.argv.includes('--postgres') ? startPostgres() : null
if (postgres) {
  process.on('exit', () => postgres.stop())
  const unit = '.cache/unit-postgres.json'
  const env = { OCHOTE_TEST_POSTGRES: postgres.url, OCHOTE_E2E_POSTGRES: postgres.url }
  steps.push(
    {
      name: 'server on PostgreSQL',
      run: [local('vitest'), 'run', '--project', 'server', '--reporter=default', '--reporter=json', `--outputFile.json=${unit}`],
      env,
      count: (ok) => unitCounts(ok, unit),
    },
    { name: 'faults on PostgreSQL', run: ['node', 'scripts/faults-postgres.mjs', '--kills', '4', '--restarts', '2'], count: once },
    {
      name: 'end-to-end tests on PostgreSQL',
      run: [local('playwright'), 'test', '-c', 'e2e/playwright.config.ts', 'whole-day', 'nothing-lost', 'rights', 'two-processes'],
      env,
      count: e2eCounts,
    },
  )
}

let passed = 0
let failed = 0
for (const step of steps) {
  const began = Date.now()
  console.log(`\n── ${step.name}`)
  const { status } = spawnSync(step.run[0], step.run.slice(1), { stdio: 'inherit', env: { ...process.env, ...step.env } })
  let counts
  try {
    counts = step.count(status === 0)
  } catch {
    counts = { passed: 0, failed: 1 }
  }
  passed += counts.passed
  failed += counts.failed
  console.log(`── ${step.name}: ${counts.failed === 0 ? 'passed' : 'FAILED'} in ${((Date.now() - began) / 1000).toFixed(1)} s`)
}
console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed === 0 ? 0 : 1)
