/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^packages/core/src' },
      // a packer of boxes is computation with no interface either
      to: { pathNot: '^(packages/core/src|node_modules/maxrects-packer/)' },
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
    {
      // what computes on rasters knows nothing of steps: a step is made of kernels, never the other way
      name: 'kernels-know-no-steps',
      severity: 'error',
      from: { path: '^packages/core/src/(raster|math|colour|mask|matte|codec|strokes|sieve|card|glb)/' },
      to: { path: '^packages/core/src/(steps|run|piece|handoff|snags)/', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'kernels-know-no-steps-by-type',
      severity: 'error',
      from: { path: '^packages/core/src/(raster|math|colour|mask|matte|codec|strokes|sieve|card)/' },
      to: { path: '^packages/core/src/(steps|run|handoff|snags)/' },
    },
    {
      // statuses are http's alone: features and workers throw a StudioError of some kind
      name: 'http-is-the-outermost',
      severity: 'error',
      from: { path: '^apps/server/src/(db|worker)/' },
      to: { path: '^apps/server/src/(http|features)/' },
    },
    {
      name: 'services-know-no-http',
      severity: 'error',
      from: { path: '^apps/server/src/features/', pathNot: '\\.controller\\.ts$|follow-streams\\.ts$' },
      to: { path: '^apps/server/src/http/' },
    },
    {
      // a step by hand paints on the stage; the stage knows only that something may
      name: 'stage-knows-no-other-feature',
      severity: 'error',
      from: { path: '^apps/web/src/features/stage/' },
      to: { path: '^apps/web/src/features/(?!stage/)' },
    },
    {
      name: 'computing-knows-no-interface',
      severity: 'error',
      from: { path: '^apps/web/src/(engine|workers|document)/' },
      to: {
        path: '^apps/web/src/(features|views|stores|components)/',
        pathNot: '^apps/web/src/features/stage/drawing/',
      },
    },
    {
      // schemas are made where Zod is told what pages allow
      name: 'zod-through-the-contract',
      severity: 'error',
      from: { path: '^(packages/contract|apps/web)/src', pathNot: '^packages/contract/src/zod\\.ts$' },
      to: { path: 'node_modules/zod/' },
    },
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
