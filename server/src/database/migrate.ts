import { readdir, readFile } from 'node:fs/promises';
import { HOUSE } from '../place.ts';
import { inTransaction, type Pool } from './pool.ts';

const FOLDER = new URL('server/src/database/migrations/', HOUSE);
/** Any number: it only has to be the same in every process that migrates. */
const LOCK = 460_001;

/** A database that this code must not work on; its message is for people. */
export class DatabaseVersionError extends Error {
  override name = 'DatabaseVersionError';
}

const updates = async () => (await readdir(FOLDER)).filter((f) => f.endsWith('.sql')).sort();

async function version(): Promise<string> {
  const text = await readFile(new URL('package.json', HOUSE), 'utf8');
  return (JSON.parse(text) as { version: string }).version;
}

interface Applied {
  name: string;
  version: string | null;
}

/** Updates that a database has had, in order; none if it is new. */
async function appliedIn(pool: Pool): Promise<Applied[]> {
  const { rows: there } = await pool.query(`select 1 from pg_class where oid = to_regclass('migration')`);
  if (there.length === 0) return [];
  // Which version brought an update was not noted at first.
  const { rows } = await pool.query<Applied>(
    `select name, to_jsonb(migration) ->> 'version' as version from migration order by name`,
  );
  return rows;
}

/** Throws {@link DatabaseVersionError} if a newer version has updated the database. */
async function refuseNewer(pool: Pool): Promise<Applied[]> {
  const [known, applied] = await Promise.all([updates(), appliedIn(pool)]);
  // Other things that are done once are noted there, too: the demo.
  const newer = applied.filter(({ name }) => name.endsWith('.sql') && !known.includes(name)).at(-1);
  if (newer)
    throw new DatabaseVersionError(
      `The database was updated by a newer version of Zesty Crow and needs ${
        newer.version ? `version ${newer.version} or later` : 'a later one'
      } (update ${newer.name}); this is version ${await version()}, which knows updates up to ${known.at(-1)}. Nothing was changed. Start the newer version.`,
    );
  return applied;
}

/**
 * Throws {@link DatabaseVersionError} unless the database is exactly as this code expects it: for those who use it and
 * do not bring it up to date.
 */
export async function expectCurrent(pool: Pool): Promise<void> {
  const applied = await refuseNewer(pool);
  const missing = (await updates()).filter((name) => !applied.some((a) => a.name === name));
  if (missing.length > 0)
    throw new DatabaseVersionError(
      `The database is older than this worker: it has not had the update ${missing[0]}. Start the server of version ${await version()} first, which brings it up to date.`,
    );
}

/**
 * Brings the schema up to date with the numbered SQL files, each in its own transaction, once.
 * @throws DatabaseVersionError if a newer version has updated it
 */
export async function migrate(pool: Pool, say: (text: string) => void): Promise<void> {
  await refuseNewer(pool);
  const own = await version();
  await pool.query(
    'create table if not exists migration (name text primary key, applied timestamptz not null default now())',
  );
  await pool.query('alter table migration add column if not exists version text');
  for (const name of await updates())
    await inTransaction(pool, async (client) => {
      await client.query('select pg_advisory_xact_lock($1)', [LOCK]);
      const { rowCount } = await client.query('select 1 from migration where name = $1', [name]);
      if (rowCount) return;
      say(`Updating the database: ${name}`);
      await client.query(await readFile(new URL(name, FOLDER), 'utf8'));
      await client.query('insert into migration (name, version) values ($1, $2)', [name, own]);
    });
}
