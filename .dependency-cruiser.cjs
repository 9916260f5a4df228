/**
 * Which way imports may point. Inside core/ every arrow points down this list: a room imports only rooms above it.
 * docs/decisions and CONTRIBUTING.md say what belongs where.
 */
const ROOMS = [
  'planes',
  'crew',
  'findings',
  'fields',
  'colour',
  'kernels',
  'formats',
  'idlayers',
  'idindex',
  'cast',
  'mixtures',
  'roles',
  'picks',
  'display',
  'masks',
  'corrections',
  'changes',
  'apply',
  'relink',
  'scopes',
  'version',
  'inspect',
  'mend',
  'exports',
  'scene',
  'render',
  'passes',
  'plan',
  'frame',
];
const downwards = ROOMS.map((room, i) => ({
  name: `core-${room}-imports-only-what-lies-below`,
  severity: 'error',
  from: { path: `^core/src/${room}/`, pathNot: '\\.test\\.ts$' },
  to: {
    path: `^core/src/(${ROOMS.slice(i + 1).join('|') || 'none'})/`,
    // Passes are described by the plan's roster; that circle is opened when the renderer's wing is moved.
    ...(room === 'passes' ? { pathNot: '^core/src/plan/(plan|roster)\\.ts$' } : {}),
  },
}));

const FEATURES = 'shots|versions|presets|scenes|renders|exports|files|folders|history|events|jobs|demo';

module.exports = {
  forbidden: [
    {
      name: 'no-circle',
      severity: 'error',
      from: { pathNot: '^core/src/(passes|plan)/' },
      to: { circular: true, dependencyTypesNot: ['type-only'] },
    },
    ...downwards,
    {
      name: 'core-knows-nothing-outside',
      severity: 'error',
      from: { path: '^core/src/', pathNot: '\\.test\\.ts$' },
      to: { path: '^(server|web|cli|e2e|demo|core/node|core/test)/' },
    },
    {
      name: 'core-knows-no-node',
      severity: 'error',
      from: { path: '^core/src/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'nothing-in-core-imports-its-own-barrel',
      severity: 'error',
      from: { path: '^core/src/', pathNot: '\\.test\\.ts$' },
      to: { path: '^core/src/index\\.ts$' },
    },
    {
      name: 'ground-of-the-server',
      severity: 'error',
      from: { path: '^server/src/(http|database|queue)/' },
      to: { path: `^server/src/(${FEATURES}|app\\.ts|main\\.ts|worker\\.ts)` },
    },
    {
      name: 'nothing-imports-the-top-of-the-server',
      severity: 'error',
      from: { path: '^server/src/', pathNot: '^server/src/(main|worker|lane|job-kinds)\\.ts$' },
      to: { path: '^server/src/(app|main|worker)\\.ts$' },
    },
    {
      name: 'no-routes-of-another-folder',
      severity: 'error',
      from: { path: '^server/src/([^/]+)/' },
      to: { path: '^server/src/[^/]+/routes\\.ts$', pathNot: '^server/src/$1/' },
    },
    {
      name: 'the-viewer-knows-no-screen',
      severity: 'error',
      from: { path: '^web/src/(viewer|fields|picture)/' },
      to: { path: '^web/src/(shots|shot|prepare|render-stage|inspect|correct|export|shell)/' },
    },
    {
      name: 'the-browser-takes-only-types-from-the-server',
      severity: 'error',
      from: { path: '^web/src/' },
      to: { path: '^server/', pathNot: '^server/src/contract\\.ts$' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '\\.(d\\.ts|glb|json)$' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'default'],
      extensions: ['.ts', '.vue', '.mjs', '.js'],
    },
  },
};
