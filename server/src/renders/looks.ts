import type { Pool } from '../database/pool.ts';
import { announce, JOB_CHANNEL } from '../database/announce.ts';

/** Asks a render to end with what there is. */
export async function keepJob(pool: Pool, id: string): Promise<boolean> {
  const { rowCount } = await pool.query(
    `update job set keep = true where id = $1 and kind = 'render' and state = 'running'`,
    [id],
  );
  await announce(pool, JOB_CHANNEL, id);
  return rowCount === 1;
}

/** Keeps the latest look at a render's picture. */
export async function noteLook(pool: Pool, id: string, png: Uint8Array): Promise<void> {
  await pool.query(
    `insert into job_look (job_id, png) values ($1, $2) on conflict (job_id) do update set png = excluded.png`,
    [id, Buffer.from(png)],
  );
  await pool.query(`update job set look = look + 1 where id = $1 and state = 'running'`, [id]);
}

export async function lookOf(pool: Pool, id: string): Promise<Buffer | undefined> {
  return (await pool.query<{ png: Buffer }>('select png from job_look where job_id = $1', [id])).rows[0]?.png;
}
