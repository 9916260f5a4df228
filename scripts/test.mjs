// npm test [-- --changed]: sets up what the tests need, runs every check, and ends with "N passed, N failed". With
// --changed only what the changes since main can touch.
import { existsSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { changedFiles, suitesThrough } from './changed.mjs';
import { buildBundles, installModules, installPackages, say } from './steps.mjs';
import { check, checks, jest, judgeTimes, total } from './test-steps.mjs';

const PROGRAMS = {
  postgresql: ['/usr/lib/postgresql'],
  chromium: ['/usr/bin/chromium'],
  'chromium-driver': ['/usr/bin/chromedriver'],
  openexr: ['/usr/bin/exrheader', '/usr/bin/exrinfo'],
  'openimageio-tools': ['/usr/bin/oiiotool'],
  unzip: ['/usr/bin/unzip'],
};
/** Suites with an application at a time: they wait about as much as they compute. */
const WAITING = 2;

const npm = (title, script) => () => check(title, 'npm', ['run', '--silent', script]);

/** Each uses one core for most of its time: the longest come first. */
const ALL = [
  npm('Style', 'lint'),
  npm('Types of the interface', 'typecheck:web'),
  npm('Types of its plain files', 'typecheck:plain'),
  npm('Types', 'typecheck:core'),
  () => check('The web application', process.execPath, ['scripts/web.mjs']),
  npm('Form', 'form'),
  npm('Structure', 'structure'),
];

async function everything() {
  await checks(ALL, availableParallelism());
  // Every core has work: one worker each, where Jest by itself leaves one idle.
  jest('Core, command line and parts of the interface', ['core', 'cli', 'web'], '--maxWorkers=100%');
  jest('Server and interface', ['server', 'e2e'], `--maxWorkers=${WAITING}`);
  judgeTimes();
}

async function whatChanged() {
  const files = changedFiles();
  say(`${files.length} files have changed.`);
  const code = files.filter((f) => /\.(ts|vue|mjs|js|cjs)$/.test(f));
  const bin = (name) => `node_modules/.bin/${name}`;
  const components = files.filter((f) => f.endsWith('.vue'));
  const suites = suitesThrough(files);
  const inWeb = files.some((f) => /^(web|core)\//.test(f));
  await checks(
    [
      // Before the suites that need it, beside all else.
      ...(suites.length ? [() => check('The web application', process.execPath, ['scripts/web.mjs'])] : []),
      ...(components.length
        ? [() => check('Style of components', bin('eslint'), ['--no-warn-ignored', ...components])]
        : []),
      npm('Style', 'lint:plain'),
      ...(inWeb ? [npm('Types of the interface', 'typecheck:web')] : []),
      npm('Types', 'typecheck:core'),
      () => check('Form', bin('oxfmt'), ['--check', '--no-error-on-unmatched-pattern', ...files]),
      npm('Structure', 'structure'),
    ],
    availableParallelism(),
  );
  const related = code.filter((f) => f.endsWith('.ts'));
  if (related.length)
    jest(
      'Units that the changes touch',
      ['core', 'cli', 'web'],
      ...['--maxWorkers=100%', '--passWithNoTests', '--findRelatedTests', ...related],
    );
  if (suites.length)
    jest(
      'Server and interface',
      ['server', 'e2e'],
      `--maxWorkers=${WAITING}`,
      '--passWithNoTests',
      '--',
      ...suites,
    );
}

try {
  const missing = Object.keys(PROGRAMS).filter((name) => !PROGRAMS[name].every((p) => existsSync(p)));
  installPackages(missing, 'for the tests');
  installModules();
  buildBundles();
  await (process.argv.includes('--changed') ? whatChanged() : everything());
} catch (error) {
  say(error.message);
  total.failed++;
}
say(`\n${total.passed} passed, ${total.failed} failed`);
process.exit(total.failed ? 1 : 0);
