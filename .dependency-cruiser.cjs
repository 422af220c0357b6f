/** Arrows point down only: web and server → contract → core; cli → core, contract. Nothing imports web, server or cli. */
const only = (name, from, allowed) => ({
  name,
  severity: 'error',
  from: { path: `^packages/${from}/` },
  to: { path: '^packages/', pathNot: `^packages/(${[from, ...allowed].join('|')})/` },
})

module.exports = {
  forbidden: [
    only('core-stands-alone', 'core', []),
    only('contract-on-core', 'contract', ['core']),
    only('server-on-contract', 'server', ['contract', 'core']),
    only('web-on-contract', 'web', ['contract', 'core']),
    only('cli-on-contract', 'cli', ['contract', 'core']),
    {
      name: 'core-without-node',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'through-the-index',
      comment: 'Other workspaces are entered only through their index.',
      severity: 'error',
      from: { path: '^packages/([^/]+)/' },
      to: { path: '^packages/([^/]+)/src/.+', pathNot: ['^packages/$1/', '^packages/[^/]+/src/index\\.ts$'] },
    },
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(build|dist|node_modules)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import'], extensions: ['.ts', '.tsx', '.js'] },
  },
}
