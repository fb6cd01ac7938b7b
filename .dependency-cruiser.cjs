/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^packages/core/src' },
      to: { pathNot: '^packages/core/src' },
    },
    {
      name: 'contract-only-core-and-zod',
      severity: 'error',
      from: { path: '^packages/contract/src' },
      to: { pathNot: '^(packages/(contract|core)/src|node_modules/zod/)' },
    },
    {
      name: 'demo-only-core',
      severity: 'error',
      from: { path: '^packages/demo/src' },
      to: { pathNot: '^packages/(demo|core)/src' },
    },
    {
      name: 'web-not-server',
      severity: 'error',
      from: { path: '^apps/web' },
      to: { path: '^(apps/server|packages/demo)' },
    },
    { name: 'server-not-web', severity: 'error', from: { path: '^apps/server' }, to: { path: '^apps/web' } },
    { name: 'not-to-unresolvable', severity: 'error', from: {}, to: { couldNotResolve: true } },
    {
      name: 'no-dev-dep-in-src',
      severity: 'error',
      from: { path: '^(packages|apps)/[^/]+/src', pathNot: '\\.d\\.ts$' },
      to: { dependencyTypes: ['npm-dev'], dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'no-orphans',
      severity: 'warn',
      from: { orphan: true, pathNot: '(\\.d\\.ts|\\.config\\.(ts|js))$' },
      to: {},
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '^(packages|apps)/[^/]+/(dist|coverage)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['source', 'import', 'node', 'default'],
      extensions: ['.ts', '.vue', '.js', '.mjs', '.json', '.d.ts'],
      mainFields: ['module', 'main', 'types'],
    },
  },
};
