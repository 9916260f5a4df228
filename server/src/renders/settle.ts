import { picksOfWish, type Plan } from '@zesty-crow/core/plan';
import { rosterOf } from '@zesty-crow/core/roster';
import { announce, JOB_CHANNEL, SHOT_CHANNEL } from '../database/announce.ts';
import type { Pool } from '../database/pool.ts';
import type { JobHome } from '../queue/kind.ts';
import { beginJoin } from './bands.ts';
import { countJobs, forgetCancelledAdditions, hasBands, jobIdsOf } from '../queue/jobs.ts';
import type { Queue } from '../queue/queue.ts';
import { dropCancelledSnapshots } from './snapshots.ts';
import { storedScene } from '../scenes/scenes.ts';

/**
 * Brings a version up to date after one of its frames ended: once no frame is under way it is read, as any other
 * version is. A render of which no frame was finished leaves nothing behind but its failure.
 */
export async function settleVersion(
  { pool, queue }: JobHome,
  shotId: string,
  versionId: string,
): Promise<void> {
  const jobs = await countJobs(pool, versionId, 'render');
  if (jobs.under_way > 0) {
    // Parts of a still are no frames.
    if (jobs.done > 0 && !(await hasBands(pool, versionId)))
      await showFirst({ pool, queue }, shotId, versionId);
    return;
  }
  if (await beginJoin({ pool, queue }, shotId, versionId)) return;
  await forgetCancelledAdditions(pool, versionId);
  await dropCancelledSnapshots(pool, versionId);
  // One that grew is finished when it has been read, unless a frame was stopped by a fault.
  await pool.query(
    `update version v set unfinished = case when exists (select 1 from job where version_id = v.id and kind = 'render'
       and state = 'failed' and snapshot > 0) then 'stopped' else 'growing' end
     where id = $1 and unfinished is not null`,
    [versionId],
  );
  const { rows } = await pool.query<{ plan: Plan | null; frames: number }>(
    `select v.plan, (select count(distinct coalesce(frame, 0))::int from file
       where version_id = v.id and role = 'picture' and not arriving and retired is null) as frames
     from version v where v.id = $1`,
    [versionId],
  );
  const v = rows[0];
  if (!v) return;
  if (v.frames === 0) {
    if (jobs.failed > 0)
      await pool.query(`update version set state = 'failed', problem = $2 where id = $1`, [
        versionId,
        jobs.message,
      ]);
    // Whoever cancelled it does not want to see it again.
    else {
      const gone = await jobIdsOf(pool, versionId);
      await pool.query('delete from version where id = $1', [versionId]);
      for (const id of gone) await announce(pool, JOB_CHANNEL, id);
    }
    await announce(pool, SHOT_CHANNEL, shotId);
    return;
  }
  const outline = (await storedScene(pool, shotId))?.outline;
  if (outline && v.plan) {
    const roster = rosterOf(outline, v.plan);
    const wishes = v.plan.wishes.map((w) => ({
      id: w.id,
      words: w.words,
      picks: picksOfWish(w, v.plan!, roster),
    }));
    await pool.query('update version set wishes = $2 where id = $1', [versionId, JSON.stringify(wishes)]);
  }
  await readAgain({ pool, queue }, shotId, versionId, true);
}

/**
 * Has a version read, unless that waits to be done anyway: one that runs already may have read what was there before.
 * @param last all that will come has come
 */
export async function readAgain(
  { pool, queue }: JobHome,
  shotId: string,
  versionId: string,
  last = false,
): Promise<void> {
  const { rowCount } = await pool.query(
    `update job set input = input || $2::jsonb where version_id = $1 and kind = 'ingest' and state = 'waiting'`,
    [versionId, JSON.stringify(last ? { last } : {})],
  );
  if (!rowCount)
    await queue.enqueue(pool, { kind: 'ingest', shotId, versionId, input: last ? { last } : {} });
}

/** Lets a sequence be worked on from its first frame on that is done. */
async function showFirst(home: JobHome, shotId: string, versionId: string): Promise<void> {
  const { rowCount } = await home.pool.query(
    `update version set unfinished = 'growing' where id = $1 and state = 'rendering' and unfinished is null`,
    [versionId],
  );
  if (rowCount) await readAgain(home, shotId, versionId);
  await announce(home.pool, SHOT_CHANNEL, shotId);
}

/** Versions whose frames are all over, but whose last worker died before it could bring them up to date. */
export async function settleLeftVersions(pool: Pool, queue: Queue): Promise<void> {
  const { rows } = await pool.query<{ id: string; shot_id: string }>(
    `select v.id, v.shot_id from version v where (v.state = 'rendering' or v.unfinished = 'growing')
       and exists (select 1 from job where version_id = v.id and kind = 'render')
       and not exists (select 1 from job where version_id = v.id
         and (state in ('waiting', 'running') or ended > now() - interval '20 seconds'))`,
  );
  for (const { id, shot_id } of rows) await settleVersion({ pool, queue }, shot_id, id);
}
