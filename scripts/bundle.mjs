// Bundles TypeScript for Node.js, for scripts that measure, and runs it in a process of its own.
import { spawnSync } from 'node:child_process'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'

/** Reference data lie beside the fixtures, wherever a bundle lies. */
const FIXTURES = pathToFileURL('packages/core/fixtures/load.ts').href

/** Bundles a file, or a few lines of code as `{ code }`, into .cache/bench and gives the bundle's path. */
export const bundle = async (entry, name, options = {}) => {
  const outfile = `.cache/bench/${name}.mjs`
  await build({
    ...(typeof entry === 'string' ? { entryPoints: [entry] } : { stdin: { contents: entry.code, resolveDir: '.', loader: 'ts' } }),
    bundle: true,
    platform: 'node',
    format: 'esm',
    outfile,
    logLevel: 'error',
    ...options,
  })
  return outfile
}

/** Replaces where a bundle is by where the fixtures are, for code that reads reference data. */
export const withFixtures = { define: { 'import.meta.url': JSON.stringify(FIXTURES) } }

/** Bundles one of the core's benchmarks, runs it in a fresh process, and reads its JSON. `node`: arguments of Node.js itself. */
export const runBench = async (name, args = [], { node = [], options = {} } = {}) => {
  const file = await bundle(`packages/core/bench/${name}.ts`, name, options)
  const { stdout, status, stderr } = spawnSync('node', [...node, file, ...args], { encoding: 'utf8', maxBuffer: 1 << 26 })
  if (status !== 0) throw new Error(stderr)
  return JSON.parse(stdout)
}
