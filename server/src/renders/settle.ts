import { picksOfWish, rosterOf, type Plan } from '@zesty-crow/core/plan';
import type { OpenPicture } from '@zesty-crow/core';
import type { Pool } from '../database/pool.ts';
import { openVersion } from '../versions/open-version.ts';
import { finishVersion } from '../versions/read-version-job.ts';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { storedScene } from '../scenes/scenes.ts';

/**
 * Brings a version up to date after one of its frames ended: ready once no frame is under way. A render of which no
 * frame was finished leaves nothing behind but its failure.
 * @param open the frame that has just been rendered, if it is at hand
 */
export async function settleVersion(
  pool: Pool,
  shotId: string,
  versionId: string,
  open?: OpenPicture,
): Promise<void> {
  const { rows } = await pool.query<{
    state: string;
    plan: Plan | null;
    under_way: number;
    failed: number;
    cancelled: number;
    message: string | null;
    frames: number;
  }>(
    `select v.state, v.plan,
       (select count(*)::int from job where version_id = v.id and kind = 'render' and state in ('waiting', 'running')) as under_way,
       (select count(*)::int from job where version_id = v.id and kind = 'render' and state = 'failed') as failed,
       (select count(*)::int from job where version_id = v.id and kind = 'render' and state = 'cancelled') as cancelled,
       (select message from job where version_id = v.id and kind = 'render' and state = 'failed' order by ended desc limit 1) as message,
       (select count(distinct coalesce(frame, 0))::int from file where version_id = v.id and role = 'picture') as frames
     from version v where v.id = $1`,
    [versionId],
  );
  const v = rows[0];
  if (!v || v.under_way > 0) return;
  if (v.frames === 0) {
    if (v.failed > 0)
      await pool.query(`update version set state = 'failed', problem = $2 where id = $1`, [
        versionId,
        v.message,
      ]);
    // Whoever cancelled it does not want to see it again.
    else await pool.query('delete from version where id = $1', [versionId]);
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
  await finishVersion(pool, shotId, versionId, open ?? (await openVersion(pool, versionId)));
  const lost = v.failed + v.cancelled;
  if (lost)
    await pool.query('update version set problem = $2 where id = $1', [
      versionId,
      v.failed
        ? `${v.failed} frame(s) could not be rendered: ${v.message}`
        : `${v.cancelled} frame(s) were cancelled.`,
    ]);
}

/** Versions whose frames are all over, but whose last worker died before it could bring them up to date. */
export async function unsettledVersions(pool: Pool): Promise<{ id: string; shot_id: string }[]> {
  return (
    await pool.query<{ id: string; shot_id: string }>(
      `select v.id, v.shot_id from version v where v.state = 'rendering'
         and exists (select 1 from job where version_id = v.id and kind = 'render')
         and not exists (select 1 from job where version_id = v.id and kind = 'render'
           and (state in ('waiting', 'running') or ended > now() - interval '20 seconds'))`,
    )
  ).rows;
}
