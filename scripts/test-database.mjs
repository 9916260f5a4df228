// The one PostgreSQL of all suites that need an application. Jest runs this before them, `npm test` once for them all.
import { join } from 'node:path';
import { takeFolder } from './lock.mjs';
import { startPostgres } from './postgres.mjs';
import { buildBundles, buildWeb, dataFolder, StartError } from './steps.mjs';

/** Nothing in it has to survive the machine; several applications use it at once. */
const SETTINGS = {
  fsync: 'off',
  synchronous_commit: 'off',
  full_page_writes: 'off',
  autovacuum: 'off',
  max_connections: 400,
};

/** What to end once the suites are over: nothing, if somebody else has begun it. */
let running;

/** Starts it, and tells the suites its address by TEST_DATABASE. */
export default async function startTestDatabase() {
  buildBundles();
  buildWeb();
  if (process.env.TEST_DATABASE) return;
  const root = dataFolder(join('test', 'database'));
  const folder = takeFolder(root);
  if (folder.other)
    throw new StartError(
      `The tests' database is in use by process ${folder.other.pid}. Wait for it, or end it.`,
    );
  const database = await startPostgres(root, SETTINGS);
  process.env.TEST_DATABASE = database.url;
  dropLeft(database.psql);
  running = { folder, database };
}

/** What applications of a run that was ended have left. */
function dropLeft(psql) {
  for (const name of psql("select datname from pg_database where datname like 'app\\_%'")
    .split('\n')
    .filter(Boolean))
    psql(`drop database ${name} with (force)`);
}

export async function stopTestDatabase() {
  await running?.database.stop();
  running?.folder.release();
  running = undefined;
}
