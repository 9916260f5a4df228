import { randomUUID } from 'node:crypto';
import type { TileSums } from '@zesty-crow/core/render';
import { joinBands, type Band } from '@zesty-crow/core/node';
import type { SumsKey } from '@zesty-crow/core/render';
import { announce, JOB_CHANNEL, SHOT_CHANNEL } from '../database/announce.ts';
import { inTransaction, type Pool } from '../database/pool.ts';
import { insertJob, openBands, secondsOfBands } from '../queue/jobs.ts';
import type { JobHome } from '../queue/kind.ts';
import { filesOf } from '../files/store.ts';
import { readSums } from './sums.ts';

/** A band as a job knows it; those of one frame share a group. */
export interface BandOfFrame extends Band {
  group: string;
}

/** Most bands of a still: each reads the scene for itself. */
export const MOST_BANDS = 64;

/** The bands of a still. */
export function bandsOf(count: number): BandOfFrame[] {
  const group = randomUUID();
  return Array.from({ length: count }, (_, index) => ({ index, of: count, group }));
}

/** What the sums of a band are called. */
export const bandName = ({ group, index }: BandOfFrame): string => `band ${group} ${index}`;

/** Workers that take jobs from this database now. */
export async function workerCount(pool: Pool): Promise<number> {
  const { rows } = await pool.query<{ n: number }>(
    `select count(*)::int as n from pg_stat_activity
     where application_name = 'zesty-crow-worker' and datname = current_database()`,
  );
  return rows[0]?.n ?? 0;
}

/** The sums of a whole frame from those of its bands, and the seconds that they took together. */
export async function sumsOfBands(
  pool: Pool,
  versionId: string,
  group: string,
  key: SumsKey,
): Promise<{ sums: TileSums[]; spent: number }> {
  const files = (await filesOf(pool, { versionId })).filter(
    (f) => f.role === 'sums' && f.name.startsWith(`band ${group} `),
  );
  const tiles: TileSums[] = [];
  for (const { id } of files) tiles.push(...(await readSums(pool, id, key)));
  return { sums: joinBands(tiles, key), spent: await secondsOfBands(pool, versionId, group) };
}

/** Begins the job that makes a frame of its bands, where all of them are done; false if there is none. */
export async function beginJoin(
  { pool, queue }: JobHome,
  shotId: string,
  versionId: string,
): Promise<boolean> {
  const ids = await inTransaction(pool, async (client) => {
    // Of two workers that end the last two bands one begins it.
    await client.query('select 1 from version where id = $1 for update', [versionId]);
    const begun: string[] = [];
    for (const { group, frame, input } of await openBands(client, versionId)) {
      const { band: _, ...rest } = input;
      const job = { kind: 'render', shotId, versionId, input: { ...rest, join: group } };
      begun.push((await insertJob(client, { ...job, ...(frame === null ? {} : { frame }) })).id);
    }
    return begun;
  });
  for (const id of ids) {
    await queue.offer('long', id);
    await announce(pool, JOB_CHANNEL, id);
  }
  if (ids.length) await announce(pool, SHOT_CHANNEL, shotId);
  return ids.length > 0;
}
