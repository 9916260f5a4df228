// npm test: sets up what the tests need, runs every check, and ends with "N passed, N failed".
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { buildBundles, buildWeb, dataFolder, HOUSE, installModules, installPackages, say } from './steps.mjs';

const PROGRAMS = {
  postgresql: ['/usr/lib/postgresql'],
  chromium: ['/usr/bin/chromium'],
  'chromium-driver': ['/usr/bin/chromedriver'],
  openexr: ['/usr/bin/exrheader', '/usr/bin/exrinfo'],
  'openimageio-tools': ['/usr/bin/oiiotool'],
  unzip: ['/usr/bin/unzip'],
};

let passed = 0;
let failed = 0;

function run(command, args, env = {}) {
  return (
    spawnSync(command, args, { cwd: HOUSE, stdio: 'inherit', env: { ...process.env, ...env } }).status === 0
  );
}
/** Runs a check of its own beside others, and says at its end what it has said. */
function check(title, command, args) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: HOUSE, stdio: ['ignore', 'pipe', 'pipe'] });
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (part) => (output += part));
    const end = (sound) => {
      say(`\n== ${title}\n${output.trim()}`);
      if (sound) passed++;
      else {
        failed++;
        say(`FAILED: ${title}`);
      }
      resolve();
    };
    child.on('error', () => end(false));
    child.on('close', (code) => end(code === 0));
  });
}
function jest(title, projects, ...more) {
  say(`\n== ${title}`);
  const report = join(dataFolder('test'), `${projects[0]}.json`);
  const args = [
    '--no-warnings',
    '--experimental-vm-modules',
    'node_modules/jest/bin/jest.js',
    '--json',
    `--outputFile=${report}`,
  ];
  const sound = run(process.execPath, [...args, ...more, '--selectProjects', ...projects]);
  const result = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : undefined;
  if (!result || result.numTotalTests === 0) {
    failed++;
    return;
  }
  passed += result.numPassedTests;
  // A file that does not even load has no tests of its own to fail.
  failed += result.numFailedTests + result.numRuntimeErrorTestSuites;
  if (!sound && result.numFailedTests + result.numRuntimeErrorTestSuites === 0) failed++;
}

try {
  const missing = Object.keys(PROGRAMS).filter((name) => !PROGRAMS[name].every((p) => existsSync(p)));
  installPackages(missing, 'for the tests');
  installModules();
  buildBundles();
  // Each uses one core for most of its time.
  await Promise.all([
    check('Types', 'npm', ['run', '--silent', 'typecheck']),
    check('Style', 'npm', ['run', '--silent', 'lint']),
    check('Structure', 'npm', ['run', '--silent', 'structure']),
  ]);
  // Every core has work: one worker each, where Jest by itself leaves one idle.
  jest('Core, command line and parts of the interface', ['core', 'cli', 'web'], '--maxWorkers=100%');
  buildWeb();
  jest('Server', ['server'], '--runInBand');
  jest('Interface', ['e2e'], '--runInBand');
} catch (error) {
  say(error.message);
  failed++;
}
say(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
