// npm run campaign -- [FACTOR] [FOLDER]: what takes too long for every test. Properties are tried FACTOR times as often
// as usual (1000 by default: hundreds of thousands of files and blocks), and all speeds are measured at full size. The
// figures are written to FOLDER (by default .data/campaign) for machines.
import { spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { HOUSE, buildBundles, buildWeb, say } from './steps.mjs';

const [factor = '1000', folder = join(HOUSE, '.data/campaign')] = process.argv.slice(2);
const FUZZED = [
  ...['kernels', 'formats', 'idindex', 'masks', 'apply', 'picks', 'corrections/'],
  ...['scene/damaged', 'plan/schema', 'render/waves', 'fields/patch', 'parcels/naming'],
];
mkdirSync(folder, { recursive: true });
buildBundles();
buildWeb();

const failed = [];
function step(name, command, args, env = {}) {
  say(`== ${name}`);
  const { status } = spawnSync(command, args, {
    cwd: HOUSE,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  });
  if (status !== 0) failed.push(name);
}
const jest = ['--no-warnings', '--experimental-vm-modules', 'node_modules/jest/bin/jest.js'];
const hours = String(24 * 3600 * 1000);
step(
  `Properties, ${factor} times as often`,
  process.execPath,
  [...jest, '--selectProjects', 'core', '--testTimeout', hours, '--', ...FUZZED],
  { CAMPAIGN: factor },
);
step(
  'Five hundred frames',
  process.execPath,
  [...jest, '--selectProjects', 'web', '--testTimeout', hours, '--', 'long-sequence'],
  { CAMPAIGN: '10' },
);
step(
  'Runs of sixty frames and ten parcels, with processes killed in each phase',
  process.execPath,
  [...jest, '--selectProjects', 'server', '--runInBand', '--testTimeout', hours, '--', 'whole-runs'],
  { CAMPAIGN: '10' },
);
step(
  'A history of ten thousand steps',
  process.execPath,
  [
    ...jest,
    '--selectProjects',
    'server',
    '--runInBand',
    '--testTimeout',
    hours,
    '-t',
    'of many steps',
    '--',
    'api.test',
  ],
  { CAMPAIGN: '100' },
);
step(
  'Parcels of five hundred frames by one worker and by two, and an archive of two gigabytes',
  process.execPath,
  [...jest, '--selectProjects', 'server', '--runInBand', '--testTimeout', hours, '--', 'parcels/many'],
  { CAMPAIGN: '25' },
);
const json = (name) => ['--json', resolve(folder, name)];
step('Speeds', 'npx', ['tsx', 'core/bench/run.ts', ...json('bench.json')]);
step('Speeds in the browser', 'npx', ['tsx', 'e2e/bench/browser.ts', ...json('browser.json')]);
say(failed.length ? `Failed: ${failed.join(', ')}` : `All done. The figures are in ${folder}.`);
process.exit(failed.length ? 1 : 0);
