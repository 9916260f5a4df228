// What `npm test -- --changed` runs: all that the changes since main can touch.
import { spawnSync } from 'node:child_process';
import { HOUSE } from './steps.mjs';

/**
 * Suites that start an application, by the folders that they go through. Jest knows what a suite imports, and of a running
 * application it imports nothing.
 */
const THROUGH = [
  [/^web\/src\/(correct\/(?!variants|frames)|fields\/)/, ['steps']],
  [/^web\/src\/correct\/(seeing|facts)/, ['recolour']],
  [/^web\/src\/(viewer|shot\/changes)\//, ['isolate', 'two-windows']],
  [/^web\/src\/(picture|shot)\//, ['correct', 'steps']],
  [/^web\/src\/correct\/(variants|frames)\//, ['variants', 'hand-over']],
  [/^web\/src\/(inspect)\//, ['inspect', 'id-passes']],
  [/^web\/src\/(shots|shell|server|style)\//, ['bring-in', 'every-screen']],
  [/^web\/src\/prepare\//, ['id-plan', 'prepare-and-render']],
  [/^web\/src\/render-stage\//, ['render-requests', 'prepare-and-render']],
  [/^web\/src\/export\//, ['hand-over']],
  [/^server\/src\/(queue|database)\//, ['server/src/faults', 'server/src/api']],
  [/^server\/src\/parcels\//, ['parcels/parcels', 'hand-over']],
  [
    /^server\/src\/(versions|files|folders|jobs|http|history|events|exports|presets|shots|scenes)\//,
    ['server/src/api', 'server/src/prepared'],
  ],
  [/^server\/src\/renders\//, ['server/src/api', 'render-requests']],
  [/^server\/src\/[^/]+$/, ['server/src/api']],
  [/^(scripts\/(start|postgres|lock|steps|worker)\.mjs)/, ['server/src/faults']],
  [/^core\/src\/(planes|fields|picks|masks|corrections|changes|apply|version|display)\//, ['correct']],
  [/^core\/src\/(scene|render|roster|passes|plan)\//, ['prepare-and-render']],
  [/^core\/src\/(parcels|exports)\//, ['parcels/parcels']],
  [/^core\/src\/(inspect|mend|roles|idlayers)\//, ['inspect']],
];

const git = (...args) =>
  spawnSync('git', args, { cwd: HOUSE, encoding: 'utf8' }).stdout.split('\n').filter(Boolean);

/** Where the work began: what main had when this branch left it; on main itself, what was pushed. */
function base() {
  const [head] = git('rev-parse', 'HEAD');
  const [fork] = git('merge-base', 'main', 'HEAD');
  if (fork && fork !== head) return fork;
  return git('rev-parse', '--verify', '--quiet', 'origin/main')[0] ?? head ?? 'HEAD';
}

/** Files that differ from where the work began, committed or not; those that are gone are not among them. */
export const changedFiles = () => [
  ...new Set([
    ...git('diff', '--name-only', '--diff-filter=d', base()),
    ...git('ls-files', '--others', '--exclude-standard'),
  ]),
];

/** Suites with an application that changes of these files can touch: themselves, and those that go through them. */
export function suitesThrough(files) {
  const own = files.filter((f) => /^(e2e\/tests|server)\/.*\.test\.ts$/.test(f));
  return [
    ...new Set([
      ...own,
      ...THROUGH.flatMap(([folder, suites]) => (files.some((f) => folder.test(f)) ? suites : [])),
    ]),
  ];
}
