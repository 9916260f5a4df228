import { createHash, randomBytes } from 'node:crypto';
import { readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { setTimeout as sleep } from 'node:timers/promises';
import pg from 'pg';
import { frozenPath } from '../../core/test/fixtures/frozen.ts';
import { apiOf } from './api.ts';
import { startServer, type Application } from './application.ts';

/** A database of the cluster that all suites share. */
export interface TestDatabase {
  url: string;
  drop(): Promise<void>;
}

/** What a new database can begin with: nothing, or the frozen shots, read and prepared. */
type Template = 'empty' | 'shots';

/** The shots that tests read; made once by core/test/shots/freeze.ts. */
const FROZEN = frozenPath('');
/** What the templates are made with, and of what. */
const SOURCES = [
  ...['server/src', 'core/src'].map((folder) => fileURLToPath(new URL(`../../${folder}/`, import.meta.url))),
  FROZEN,
];
/** Longer than it takes to read the frozen shots, on a busy machine. */
const READING_MS = 170_000;
/** Any number: who makes a template holds it. */
const LOCK = 460_002;

/** The address of a database of the cluster, see scripts/test-database.mjs. */
function addressOf(name: string): string {
  const cluster = process.env['TEST_DATABASE'];
  if (!cluster)
    throw new Error('The tests have no database: they are run by Jest with the projects server or e2e.');
  return Object.assign(new URL(cluster), { pathname: `/${name}` }).href;
}

async function withCluster<T>(work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: addressOf('postgres') });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

function database(name: string): TestDatabase {
  return {
    url: addressOf(name),
    drop: () =>
      withCluster(
        async (client) => void (await client.query(`drop database if exists ${name} with (force)`)),
      ),
  };
}

/** A new database, as a copy of a template that is made once for each state of the sources. */
export async function makeDatabase(template: Template): Promise<TestDatabase> {
  const from = `${template}_${stateOfSources()}`;
  const name = `app_${randomBytes(8).toString('hex')}`;
  await withCluster(async (client) => {
    await client.query('select pg_advisory_lock($1)', [LOCK]);
    const { rows } = await client.query<{ name: string }>('select datname as name from pg_database');
    if (!rows.some((r) => r.name === from)) await makeTemplate(client, template, from);
    await client.query(`create database ${name} template ${from}`);
  });
  return database(name);
}

/** A name for the present state of the sources. */
function stateOfSources(): string {
  const files = SOURCES.flatMap((folder) =>
    readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile() && !entry.name.endsWith('.test.ts'))
      .map((entry) => statSync(join(entry.parentPath, entry.name)).mtimeMs),
  );
  return createHash('sha256')
    .update(`${files.length} ${Math.max(...files)}`)
    .digest('hex')
    .slice(0, 12);
}

async function makeTemplate(client: pg.Client, template: Template, name: string): Promise<void> {
  const made = `making_${template}`;
  // Those of earlier states, and one that was not finished.
  const { rows } = await client.query<{ name: string }>(
    `select datname as name from pg_database where datname ~ $1`,
    [`^(making_${template}$|${template}_)`],
  );
  for (const old of rows) await client.query(`drop database if exists ${old.name} with (force)`);
  await client.query(`create database ${made}`);
  const seed = template === 'empty' ? { SEED_DEMO: '0' } : { DEMO_FOLDER: FROZEN };
  const application = await startServer(addressOf(made), seed);
  try {
    const call = apiOf(application);
    const end = Date.now() + READING_MS;
    const busy = async () =>
      (await call<{ state: string }[]>('GET', '/jobs')).filter(
        ({ state }) => state === 'waiting' || state === 'running',
      ).length;
    // What one job has others do after it is queued a moment later.
    for (let idle = 0; idle < (template === 'empty' ? 1 : 4); idle = (await busy()) ? 0 : idle + 1) {
      if (Date.now() > end) throw new Error('The frozen shots were not read in time');
      await sleep(500);
    }
  } finally {
    await application.stop();
  }
  // Whole or not at all.
  await client.query(`alter database ${made} rename to ${name}`);
}

/** Starts the server on a new database of all suites' cluster, without any shots; the database goes with it. */
export const startEmpty = (env: Record<string, string> = {}): Promise<Application> =>
  startOn('empty', { SEED_DEMO: '0', ...env });

/** The same with the frozen shots, all of them read, prepared and looked at for faults. */
export const startWithShots = (env: Record<string, string> = {}): Promise<Application> =>
  startOn('shots', env);

async function startOn(template: Template, env: Record<string, string>): Promise<Application> {
  const database = await makeDatabase(template);
  const application = await startServer(database.url, env);
  return {
    ...application,
    async stop() {
      await application.stop();
      await database.drop();
    },
  };
}

/** What a suite allows for its start, in milliseconds: the first one reads the frozen shots. */
export const START_MS = 240_000;
