// npm run restore FILE: makes a data folder from a backup. What a folder holds is never overwritten.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, renameSync, rmdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { openBackup } from './archive.mjs';
import { DATABASE, discard, settle } from './cluster.mjs';
import { asClient, startPostgres } from './postgres.mjs';
import { dataFolder, HOUSE, inWords, say, StartError } from './steps.mjs';

/** What belongs to an installation; the rest of the usual folder is what tests and checks keep. */
const OWN = ['postgres', 'database.json', 'running.json'];

async function restore(from) {
  if (!from) throw new StartError('Say which backup is to be restored: npm run restore FILE');
  const path = resolve(process.env.INIT_CWD ?? '.', from);
  const root = dataFolder();
  const usual = root === join(HOUSE, '.data');
  const held = readdirSync(root).filter((name) => !usual || OWN.includes(name));
  if (held.length > 0)
    throw new StartError(
      `${root} holds something already (${held.slice(0, 3).join(', ')}). Nothing was changed. ` +
        'Restore into an empty folder: ZESTY_CROW_DATA=… npm run restore FILE',
    );
  say('Checking the sum');
  const archive = await openBackup(path);
  const aside = `${root}.restoring-${process.pid}`;
  mkdirSync(aside);
  let database;
  try {
    database = await startPostgres(aside, {}, (begun) => (database = begun));
    say(`Restoring what was backed up on ${archive.facts.made}`);
    const restoring = spawn(
      join(database.programs, 'pg_restore'),
      ['--exit-on-error', '--no-owner', '--dbname', DATABASE],
      { ...asClient(database), stdio: ['pipe', 'ignore', 'pipe'] },
    );
    let fault = '';
    restoring.stderr.on('data', (text) => (fault += text));
    const over = new Promise((done) => restoring.once('close', done));
    // What it says is told below.
    restoring.stdin.on('error', () => undefined);
    await Promise.race([archive.into(restoring.stdin).catch(() => undefined), over]);
    if ((await over) !== 0)
      throw new StartError(`The backup could not be restored. ${fault.trim().split('\n').at(-1) ?? ''}`);
    const torn = database.psql(
      `select count(*) from file where size <> (select coalesce(sum(octet_length(bytes)), 0) from file_chunk where file_id = file.id)`,
      DATABASE,
    );
    if (torn.trim() !== '0')
      throw new StartError(`${torn.trim()} files are not whole in this backup. Use another one.`);
    const files = database.psql('select count(*) from file', DATABASE).trim();
    await database.stop();
    if (!existsSync(root)) mkdirSync(root);
    if (usual) {
      for (const name of readdirSync(aside)) renameSync(join(aside, name), join(root, name));
      rmdirSync(aside);
    } else {
      rmdirSync(root);
      renameSync(aside, root);
    }
    settle(root);
    say(`Restored ${files} files, with everything that belongs to them, to ${root}. Start with npm start.`);
  } catch (error) {
    await database?.stop();
    discard(aside);
    throw error;
  }
}

restore(process.argv[2]).catch((error) => {
  say(inWords(error));
  process.exitCode = 1;
});
