import { readdir, readFile } from 'node:fs/promises';
import { HOUSE } from '../place.ts';
import { inTransaction, type Pool } from './pool.ts';

const FOLDER = new URL('server/src/database/migrations/', HOUSE);
/** Any number: it only has to be the same in every process that migrates. */
const LOCK = 460_001;

/** Brings the schema up to date with the numbered SQL files, each in its own transaction, once. */
export async function migrate(pool: Pool, say: (text: string) => void): Promise<void> {
  await pool.query(
    'create table if not exists migration (name text primary key, applied timestamptz not null default now())',
  );
  for (const name of (await readdir(FOLDER)).filter((f) => f.endsWith('.sql')).sort())
    await inTransaction(pool, async (client) => {
      await client.query('select pg_advisory_xact_lock($1)', [LOCK]);
      const { rowCount } = await client.query('select 1 from migration where name = $1', [name]);
      if (rowCount) return;
      say(`Updating the database: ${name}`);
      await client.query(await readFile(new URL(name, FOLDER), 'utf8'));
      await client.query('insert into migration (name) values ($1)', [name]);
    });
}
