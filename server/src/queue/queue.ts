import PgBoss from 'pg-boss';
import type { Pool } from '../database/pool.ts';
import { announce, JOB_CHANNEL } from '../database/announce.ts';
import { insertJob, type JobKind, type JobRow, type NewJob } from './jobs.ts';

export const JOB_KINDS: readonly JobKind[] = ['ingest', 'scene', 'render', 'export'];

/** The queue hands out job ids; what a job is and how far it got stands in our own table. */
export async function openQueue(database: string, onError: (error: Error) => void): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: database, schema: 'queue', max: 4 });
  boss.on('error', onError);
  await boss.start();
  for (const kind of JOB_KINDS)
    await boss.createQueue(kind, { name: kind, retryLimit: 0, expireInHours: 20 });
  return boss;
}

/** Records a job and puts it into the queue. */
export async function enqueue(pool: Pool, boss: PgBoss, job: NewJob): Promise<JobRow> {
  const row = await insertJob(pool, job);
  await boss.send(job.kind, { id: row.id });
  await announce(pool, JOB_CHANNEL, row.id);
  return row;
}
