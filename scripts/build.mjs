// Builds everything that runs: the web pages (Vite) and the server with its worker and the command line (esbuild).
import { readdirSync } from 'node:fs'
import { build } from 'esbuild'

const only = process.argv[2]
const packages = readdirSync('packages')
const shared = {
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  alias: Object.fromEntries(
    packages.filter((p) => ['core', 'contract'].includes(p)).map((p) => [`@ochote/${p}`, `./packages/${p}/src/index.ts`]),
  ),
  sourcemap: true,
  logLevel: 'warning',
  outExtension: { '.js': '.mjs' },
}
if (!only || only === 'cli') await build({ ...shared, entryPoints: ['packages/cli/src/main.ts'], outdir: 'packages/cli/dist' })
if (!only || only === 'server')
  await build({
    ...shared,
    entryPoints: ['packages/server/src/main.ts', 'packages/server/src/jobs/worker.ts'],
    outbase: 'packages/server/src',
    outdir: 'packages/server/dist',
  })
if (!only || only === 'web') {
  const vite = await import('vite')
  await vite.build({ root: 'packages/web', logLevel: 'warn' })
}
