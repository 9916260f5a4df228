// What `npm test` is made of: checks that run beside each other, suites, and what is told at the end.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { basename, join } from 'node:path';
import { HOUSE, dataFolder, say } from './steps.mjs';

/** Counts over the whole run. */
export const total = { passed: 0, failed: 0 };

/** Seconds that one test may take: of computing alone, and of an application that runs. */
const BUDGET = { core: 10, cli: 10, web: 10, server: 40, e2e: 40 };
/** A busy machine is no slow test: what is over its budget is told, and fails when it takes so many times as long. */
const PATIENCE = 3;
const SLOWEST = 15;

/** Tests that have run: seconds, project, where, name. */
const timed = [];

const count = (sound) => void (sound ? total.passed++ : total.failed++);

/** Runs a check of its own beside others, and says at its end what it has said. */
export function check(title, command, args) {
  const begun = Date.now();
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: HOUSE, stdio: ['ignore', 'pipe', 'pipe'] });
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (part) => (output += part));
    const end = (sound) => {
      say(`\n== ${title} (${Math.round((Date.now() - begun) / 1000)} s)\n${output.trim()}`);
      if (!sound) say(`FAILED: ${title}`);
      count(sound);
      resolve();
    };
    child.on('error', () => end(false));
    child.on('close', (code) => end(code === 0));
  });
}

/** Runs checks on so many cores at a time, in this order. */
export async function checks(list, cores) {
  const left = [...list];
  const lane = async () => {
    for (let next = left.shift(); next; next = left.shift()) await next();
  };
  await Promise.all(Array.from({ length: cores }, lane));
}

/**
 * Runs suites of Jest, and counts their tests.
 * @param more further words of its command line; may be patterns of paths, behind `--`
 */
export function jest(title, projects, ...more) {
  const begun = Date.now();
  say(`\n== ${title}`);
  const report = join(dataFolder('test'), `${projects[0]}.json`);
  rmSync(report, { force: true });
  const args = [
    ...['--no-warnings', '--experimental-vm-modules', 'node_modules/jest/bin/jest.js'],
    ...['--json', `--outputFile=${report}`, '--selectProjects', ...projects, ...more],
  ];
  const { status } = spawnSync(process.execPath, args, { cwd: HOUSE, stdio: 'inherit' });
  const result = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : undefined;
  say(`${title}: ${Math.round((Date.now() - begun) / 1000)} s`);
  if (!result || (result.numTotalTests === 0 && !more.includes('--passWithNoTests'))) return count(false);
  // A file that does not even load has no tests of its own to fail.
  const failed = result.numFailedTests + result.numRuntimeErrorTestSuites;
  total.passed += result.numPassedTests;
  total.failed += failed;
  if (status !== 0 && failed === 0) count(false);
  for (const file of result.testResults)
    for (const test of file.assertionResults)
      timed.push({
        seconds: (test.duration ?? 0) / 1000,
        project: /\/(core|cli|web|server|e2e)\//.exec(file.name.slice(HOUSE.length))?.[1],
        where: basename(file.name),
        name: test.fullName,
      });
}

/** Prints the slowest tests, and counts as a failure if one of them takes longer than it may. */
export function judgeTimes() {
  timed.sort((a, b) => b.seconds - a.seconds);
  say(`\n== The slowest tests`);
  for (const t of timed.slice(0, SLOWEST))
    say(`${t.seconds.toFixed(1).padStart(6)} s  ${t.where}: ${t.name}`);
  const over = timed.filter((t) => t.seconds > BUDGET[t.project]);
  const tooSlow = (t) => t.seconds > PATIENCE * BUDGET[t.project];
  for (const t of over)
    say(
      `${tooSlow(t) ? 'FAILED' : 'Over its budget'}: ${t.where}: ${t.name} takes ${t.seconds.toFixed(1)} s, and one test may take ${BUDGET[t.project]} s. Make it quicker, or move it to npm run campaign.`,
    );
  count(!over.some(tooSlow));
}
