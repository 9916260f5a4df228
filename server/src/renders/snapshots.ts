import type { Measured } from '@zesty-crow/core/plan';
import { inTransaction, type Client, type Pool } from '../database/pool.ts';
import type { ClaimedJob } from '../queue/jobs.ts';
import { noteMeasured } from './renders.ts';

/** What a frame that is being rendered looks like for now: files that have arrived, and what they cost so far. */
export interface Snapshot {
  frame: number;
  files: string[];
  measured: Measured;
}

/**
 * Puts a snapshot in the place of the one before. That one can still be read from, by those who have it open, until the
 * next one comes. False if the job is not this worker's any more.
 */
export async function publishSnapshot(
  pool: Pool,
  job: Pick<ClaimedJob, 'id' | 'claim' | 'version_id'>,
  { frame, files, measured }: Snapshot,
): Promise<boolean> {
  return inTransaction(pool, async (client) => {
    const { rowCount } = await client.query(
      `update job set snapshot = snapshot + 1 where id = $1 and claim = $2 and state = 'running'`,
      [job.id, job.claim],
    );
    if (rowCount !== 1) return false;
    await dropRetired(client, job.id);
    await retireSnapshot(client, job.id);
    await client.query('update file set arriving = false where id = any($1)', [files]);
    await client.query(`update version set unfinished = 'growing', snapshot = snapshot + 1 where id = $1`, [
      job.version_id,
    ]);
    await noteMeasured(client, job.version_id!, frame, { ...measured, unfinished: true });
    return true;
  });
}

/** Takes what a job has published out of its version; what comes in its place has other names, or the same. */
export const retireSnapshot = (client: Client, jobId: string) =>
  client.query(
    `update file set retired = now() where job_id = $1 and role = 'picture' and not arriving and retired is null`,
    [jobId],
  );

const dropRetired = (client: Client, jobId: string) =>
  client.query(`delete from file where job_id = $1 and role = 'picture' and retired is not null`, [jobId]);

/** Deletes the snapshots of a version that nobody opens any more, once its frames are over. */
export const dropOldSnapshots = (pool: Pool, versionId: string) =>
  pool.query(
    `delete from file f using job j where j.id = f.job_id and j.version_id = $1 and j.kind = 'render'
       and j.state not in ('waiting', 'running') and f.role = 'picture' and f.retired is not null`,
    [versionId],
  );

/** Deletes what frames have published that were cancelled: nobody wants it. */
export const dropCancelledSnapshots = (pool: Pool, versionId: string) =>
  pool.query(
    `delete from file f using job j where j.id = f.job_id and j.version_id = $1 and j.kind = 'render'
       and j.state = 'cancelled' and f.role = 'picture'`,
    [versionId],
  );
