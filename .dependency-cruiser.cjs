/**
 * The rooms of each part, lowest first: a room may import what stands before it, nothing that stands after it. A room that
 * is not listed is an error of its own.
 */
const CORE_ROOMS = [
  'math',
  'colour',
  'light',
  'raster',
  'simd',
  'codec',
  'mask',
  'sieve',
  'matte',
  'relief',
  'fit',
  'strokes',
  'recipe',
  'card',
  'steps',
  'piece',
  'run',
  'propose',
  'material',
  'scene',
  'handoff',
  'receivers',
  'snags',
];
const CORE_KERNELS = CORE_ROOMS.slice(0, CORE_ROOMS.indexOf('steps'));
const WEB_ROOMS = [
  'drawing',
  'document',
  'workers',
  'api',
  'engine',
  'stores',
  'components',
  'actions',
  'features',
  'views',
];
/** The stage knows no other feature: what presses on it do is handed to it as a `PressTool`. */
const WEB_FEATURES = [
  'stage',
  'levels',
  'breaks',
  'bringin',
  'follow',
  'stock',
  'light',
  'hand',
  'material',
  'card',
  'storage',
  'run',
  'start',
  'slots',
  'recipe',
  'handoff',
  'keys',
  'help',
  'notices',
  'sieve',
];
const SERVER_ROOMS = ['db', 'worker', 'http', 'features', 'demo'];

/** Rules that forbid what runs back up, by type too. */
function inOrder(part, rooms) {
  const above = rooms.slice(0, -1).map((room, i) => ({
    name: `${part}: ${room} knows nothing above it`,
    severity: 'error',
    from: { path: `^${part}/${room}/` },
    to: { path: `^${part}/(${rooms.slice(i + 1).join('|')})/` },
  }));
  const listed = {
    name: `${part}: every room has its place in the order`,
    severity: 'error',
    from: { path: `^${part}/(?!(${rooms.join('|')})/)[^/]+/` },
    to: {},
  };
  return [...above, listed];
}

/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^packages/core/src' },
      // packers of boxes and bytes, a triangulation, XML as text: computation with no interface either
      to: { pathNot: '^(packages/core/src|node_modules/(maxrects-packer|earcut|fflate|fast-xml-parser)/)' },
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
      name: 'host-only-core-and-contract',
      severity: 'error',
      from: { path: '^packages/host/src' },
      to: { path: '^(packages/(?!host/|core/|contract/)|apps/)' },
    },
    {
      name: 'web-not-server',
      severity: 'error',
      from: { path: '^apps/web' },
      to: { path: '^(apps/server|packages/(demo|host))' },
    },
    { name: 'server-not-web', severity: 'error', from: { path: '^apps/server' }, to: { path: '^apps/web' } },
    ...inOrder('packages/core/src', CORE_ROOMS),
    ...inOrder('apps/web/src', WEB_ROOMS),
    ...inOrder('apps/web/src/features', WEB_FEATURES),
    ...inOrder('apps/server/src', SERVER_ROOMS),
    {
      // what computes on rasters, shapes and cards: a step is made of it, never the other way
      name: 'kernels-know-no-steps',
      severity: 'error',
      from: { path: `^packages/core/src/(${CORE_KERNELS.join('|')})/` },
      to: { path: '^packages/core/src/(steps|piece|run|handoff|snags)/' },
    },
    {
      name: 'services-know-no-http',
      severity: 'error',
      from: { path: '^apps/server/src/features/', pathNot: '\\.controller\\.ts$|follow-streams\\.ts$' },
      to: { path: '^apps/server/src/http/' },
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
