// npm run backup FILE: everything that a data folder holds into one new file, while the application runs or not.
import { spawn } from 'node:child_process';
import { existsSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { writeBackup } from './archive.mjs';
import { DATABASE, knownCluster } from './cluster.mjs';
import { takeFolder } from './lock.mjs';
import { answersFrom, asClient, postgresPrograms, startPostgres } from './postgres.mjs';
import { dataFolder, HOUSE, inWords, say, StartError } from './steps.mjs';

/** The running database of a data folder, or one that is started for as long as this takes. */
async function databaseOf(root) {
  const programs = postgresPrograms();
  const taken = takeFolder(root);
  if (!taken.other) {
    if (!knownCluster(root)) {
      taken.release();
      throw new StartError(`${root} holds nothing to back up: the application was never started on it.`);
    }
    try {
      const own = await startPostgres(root);
      return { ...own, programs, end: () => own.stop().finally(taken.release) };
    } catch (error) {
      taken.release();
      throw error;
    }
  }
  const known = knownCluster(root);
  if (!known || !answersFrom(known.folder, programs, known))
    throw new StartError('The application is just being started, or stopped. Try again in a moment.');
  return { ...known, programs, end: async () => undefined };
}

async function backup(to) {
  if (!to) throw new StartError('Say which file is to be written: npm run backup FILE');
  const path = resolve(process.env.INIT_CWD ?? '.', to);
  if (existsSync(path))
    throw new StartError(`There is already a file ${path}. It was left alone; choose another name.`);
  const root = dataFolder();
  // A name of its own: somebody else may have a file beside it.
  const aside = `${path}.${process.pid}.part`;
  const database = await databaseOf(root);
  let dumping;
  const broken = () => dumping?.kill('SIGTERM');
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, broken);
  try {
    dumping = spawn(
      join(database.programs, 'pg_dump'),
      // Pixels do not compress twice.
      ['--format=custom', '--compress=0', '--no-owner', '--dbname', DATABASE],
      { ...asClient(database), stdio: ['ignore', 'pipe', 'pipe'] },
    );
    let fault = '';
    dumping.stderr.on('data', (text) => (fault += text));
    const over = new Promise((done) => dumping.once('close', done));
    const { version } = JSON.parse(readFileSync(join(HOUSE, 'package.json'), 'utf8'));
    let next = Date.now() + 2000;
    const { size, sha256 } = await writeBackup(
      aside,
      dumping.stdout,
      { made: new Date().toISOString(), by: version },
      (bytes) => {
        if (Date.now() < next) return;
        next = Date.now() + 2000;
        say(`${(bytes / 2 ** 20).toFixed(0)} MB`);
      },
    );
    const code = await over;
    if (code !== 0)
      throw new StartError(`The backup was broken off. ${fault.trim().split('\n').at(-1) ?? ''}`);
    renameSync(aside, path);
    say(`Backed up ${root} to ${path}: ${(size / 2 ** 20).toFixed(1)} MB, read again, sum ${sha256}`);
  } catch (error) {
    dumping?.kill('SIGTERM');
    rmSync(aside, { force: true });
    throw error;
  } finally {
    await database.end();
  }
}

backup(process.argv[2]).catch((error) => {
  say(inWords(error));
  process.exitCode = 1;
});
