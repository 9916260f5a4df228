import { readdirSync } from 'node:fs';

/**
 * Which way imports may point. The rooms are read from the folders: one without a place here fails the check.
 * docs/decisions and CONTRIBUTING.md say what belongs where.
 */
const foldersOf = (path) =>
  readdirSync(`${import.meta.dirname}/${path}`, { withFileTypes: true })
    .filter((entry) => entry.isDirectory() && entry.name !== 'generated')
    .map((entry) => entry.name);

/** The rooms that are there; throws if one has no place, or a place has no room. */
function placed(path, ...places) {
  const rooms = foldersOf(path);
  const known = places.flat();
  const lost = rooms.filter((room) => !known.includes(room)).map((room) => `${path}/${room} has no place`);
  const gone = known.filter((room) => !rooms.includes(room)).map((room) => `${path}/${room} does not exist`);
  if (lost.length + gone.length)
    throw new Error(`.dependency-cruiser.mjs: ${[...lost, ...gone].join('; ')}.`);
}

/** Inside core/ every arrow points down: a room imports only rooms that stand before it. */
const CORE = [
  ...['planes', 'crew', 'findings', 'fields', 'colour', 'kernels', 'formats', 'idlayers', 'idindex', 'cast'],
  ...[
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
  ],
  ...['version', 'inspect', 'mend', 'exports', 'scene', 'render', 'roster', 'passes', 'plan', 'parcels'],
];
placed('core/src', CORE);
const downwards = CORE.slice(0, -1).map((room, i) => ({
  name: `core-${room}-imports-only-what-lies-below`,
  severity: 'error',
  from: { path: `^core/src/${room}/`, pathNot: '\\.test\\.ts$' },
  to: { path: `^core/src/(${CORE.slice(i + 1).join('|')})/` },
}));

/** What the server's other folders stand on; each of those is a feature. */
const GROUND = ['http', 'database', 'queue'];
const FEATURES = foldersOf('server/src').filter((folder) => !GROUND.includes(folder));

/** Screens of the interface, what they share, and what puts them together. */
const SCREENS = ['shots', 'prepare', 'render-stage', 'inspect', 'correct', 'export'];
const BELOW_SHOT = ['style', 'server', 'picture', 'fields', 'viewer'];
placed('web/src', SCREENS, BELOW_SHOT, ['shot', 'shell']);

export default {
  forbidden: [
    {
      name: 'no-circle',
      severity: 'error',
      from: {},
      to: { circular: true },
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
      to: { path: `^server/src/(${FEATURES.join('|')}|app\\.ts|main\\.ts|worker\\.ts)` },
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
      name: 'what-screens-share-knows-no-screen',
      severity: 'error',
      from: { path: `^web/src/(${[...BELOW_SHOT, 'shot'].join('|')})/`, pathNot: '\\.test\\.ts$' },
      to: { path: `^web/src/(${[...SCREENS, 'shell'].join('|')})/` },
    },
    {
      name: 'the-viewer-knows-no-shot',
      severity: 'error',
      from: { path: `^web/src/(${BELOW_SHOT.join('|')})/` },
      to: { path: '^web/src/shot/' },
    },
    {
      name: 'screens-do-not-import-each-other',
      severity: 'error',
      from: { path: `^web/src/(${SCREENS.join('|')})/` },
      to: { path: `^web/src/(${[...SCREENS, 'shell'].join('|')})/`, pathNot: '^web/src/$1/' },
    },
    {
      name: 'only-the-ways-to-the-stages-lead-to-screens',
      severity: 'error',
      from: { path: '^web/src/shell/', pathNot: '^web/src/shell/(router|stages)\\.ts$' },
      to: { path: `^web/src/(${SCREENS.join('|')})/` },
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
