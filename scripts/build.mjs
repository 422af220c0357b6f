// Builds everything that runs: the web pages (Vite) and the server with its worker and the command line (esbuild).
import { readdirSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { build } from 'esbuild'
import { writeSbom } from './sbom.mjs'

const packages = readdirSync('packages')
/** Dependencies of a package stay outside its bundle; those of core and contract go in, so that each gets its own version. */
const ownPackages = (name) =>
  Object.keys(JSON.parse(readFileSync(`packages/${name}/package.json`, 'utf8')).dependencies ?? {}).filter((d) => !d.startsWith('@ochote/'))
const shared = {
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  alias: Object.fromEntries(
    packages.filter((p) => ['core', 'contract'].includes(p)).map((p) => [`@ochote/${p}`, `./packages/${p}/src/index.ts`]),
  ),
  sourcemap: true,
  logLevel: 'warning',
  outExtension: { '.js': '.mjs' },
}
/** Build options of the server and its worker. */
export const serverBuild = () => ({
  ...shared,
  external: ownPackages('server'),
  entryPoints: ['packages/server/src/main.ts', 'packages/server/src/admin.ts', 'packages/server/src/jobs/worker.ts'],
  outbase: 'packages/server/src',
  outdir: 'packages/server/dist',
})

const parts = {
  cli: () => build({ ...shared, external: ownPackages('cli'), entryPoints: ['packages/cli/src/main.ts'], outdir: 'packages/cli/dist' }),
  server: async () => {
    await build(serverBuild())
    writeSbom()
  },
  web: async () => {
    const vite = await import('vite')
    await vite.build({ root: 'packages/web', logLevel: 'warn' })
  },
}
if (process.argv[1] === fileURLToPath(import.meta.url))
  for (const part of process.argv[2] ? [process.argv[2]] : Object.keys(parts)) await parts[part]()
