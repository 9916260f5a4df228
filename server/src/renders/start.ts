import { sampledLike, type RenderRequest } from '@zesty-crow/core/plan';
import { rosterOf } from '@zesty-crow/core/roster';
import { announce, JOB_CHANNEL, SHOT_CHANNEL } from '../database/announce.ts';
import { inTransaction } from '../database/pool.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { checkedId } from '../http/validate.ts';
import {
  beginAnew,
  cancelJobsOf,
  endWithSnapshot,
  insertJob,
  keepJobsOf,
  restartJobsOf,
} from '../queue/jobs.ts';
import type { JobHome } from '../queue/kind.ts';
import { storedScene } from '../scenes/scenes.ts';
import { createVersion, versionById } from '../versions/versions.ts';
import { bandsOf, MOST_BANDS, workerCount } from './bands.ts';
import type { RenderInput } from './render-job.ts';
import { settleVersion } from './settle.ts';
import { soundPlan, refuseTooLarge, checkBase } from './sound-plan.ts';
import { samplesOf } from './add-samples.ts';

/**
 * Begins a render of the shot's plan: one job a frame. Version and jobs are there together, or nothing is.
 * @param base the version to which IDs are added, or over which a patch is laid
 * @param parts of a still, which several workers render; as many as there are workers by default
 */
export async function startRender(
  home: JobHome & { memory: number },
  shotId: string,
  request: RenderRequest,
  base: string | undefined,
  parts?: number,
): Promise<{ versionId: string; number: number }> {
  const { pool, queue } = home;
  const plan = await soundPlan(home, shotId);
  const scene = await storedScene(pool, shotId);
  refuseTooLarge(plan, rosterOf(scene!.outline!, plan), request.what === 'ids', home.memory);
  const over = base === undefined ? undefined : await versionById(pool, checkedId(base, 'version'));
  if (base !== undefined && (over?.shot_id !== shotId || over.state !== 'ready')) throw notFound('version');
  if (over?.unfinished)
    throw new ProblemError(
      409,
      `v${over.number} is not finished.`,
      'Passes and new looks go with a version that is done. Wait for it, or stop and keep it.',
    );
  if ((request.what === 'ids' || request.what === 'patch') && over) await checkBase(home, over.id, plan);
  if (request.what === 'patch' && !over)
    throw new ProblemError(400, 'A patch is laid over a version.', 'Choose the version.');

  // IDs join the version they belong to; everything else is a version of its own.
  const joins = request.what === 'ids' && over !== undefined;
  const taken = over && request.what !== 'cut-out' ? await samplesOf(pool, over.id) : undefined;
  const input: RenderInput = {
    request,
    plan: taken === undefined ? plan : sampledLike(plan, taken),
    ...(base ? { base } : {}),
    // A version that is done already does not become unfinished.
    snapshots: !joins,
  };
  const still = plan.render.first === plan.render.last && request.what !== 'patch';
  const count = still ? (parts ?? (await workerCount(pool))) : 1;
  const bands = count > 1 ? bandsOf(Math.min(count, MOST_BANDS)) : [];
  const { version, jobs } = await inTransaction(pool, async (client) => {
    const version = joins ? over : await createVersion(client, shotId, 'render', 'rendering');
    await client.query(
      joins
        ? 'update version set plan = coalesce(plan, $2) where id = $1'
        : 'update version set plan = $2, request = $3 where id = $1',
      joins
        ? [version.id, JSON.stringify(plan)]
        : [version.id, JSON.stringify(plan), JSON.stringify(request)],
    );
    const jobs: string[] = [];
    for (let frame = plan.render.first; frame <= plan.render.last; frame++) {
      // Sequences are shared by frames.
      for (const more of bands.length ? bands.map((band) => ({ band, snapshots: false })) : [{}])
        jobs.push(
          (
            await insertJob(client, {
              kind: 'render',
              shotId,
              versionId: version.id,
              frame,
              input: { ...input, ...more },
            })
          ).id,
        );
    }
    return { version, jobs };
  });
  for (const id of jobs) {
    await queue.offer('long', id);
    await announce(pool, JOB_CHANNEL, id);
  }
  await announce(pool, SHOT_CHANNEL, shotId);
  return { versionId: version.id, number: version.number };
}

/** Renders the frames of a version again that failed or were cancelled, with the plan they were first asked for. */
export async function renderMissing(
  { pool, queue }: JobHome,
  shotId: string,
  versionId: string,
): Promise<void> {
  const version = await versionById(pool, versionId);
  if (version?.shot_id !== shotId) throw notFound('version');
  const ids = await restartJobsOf(pool, versionId, 'render');
  if (ids.length === 0)
    throw new ProblemError(409, 'No frame is missing.', 'Every frame of this version was rendered.');
  // What has some frames already stays in use.
  await pool.query(
    `update version set problem = null, state = case when state = 'failed' then 'rendering' else state end,
       unfinished = case when unfinished is null then null else 'growing' end
     where id = $1`,
    [versionId],
  );
  for (const id of ids) {
    await queue.offer('long', id);
    await announce(pool, JOB_CHANNEL, id);
  }
  await announce(pool, SHOT_CHANNEL, shotId);
}

/**
 * Ends the frames of a version with what there is: those at work as soon as every pixel has a sample, those that were
 * stopped by a fault with their last snapshot.
 */
export async function keepRender(home: JobHome, shotId: string, versionId: string): Promise<void> {
  const version = await versionById(home.pool, versionId);
  if (version?.shot_id !== shotId) throw notFound('version');
  const kept = await endWithSnapshot(home.pool, versionId);
  const stopped = await keepJobsOf(home.pool, versionId, 'render');
  if (kept.length + stopped.length === 0)
    throw new ProblemError(409, 'There is nothing to keep.', 'No frame of this version has been begun.');
  await settleVersion(home, shotId, versionId);
}

/**
 * Begins the frames of a version anew that are not done, with the plan as it is now. What they have published is seen until
 * there is something new.
 */
export async function renderAnew(
  home: JobHome,
  shotId: string,
  versionId: string,
  request: RenderRequest | undefined,
): Promise<void> {
  const { pool, queue } = home;
  const version = await versionById(pool, versionId);
  if (version?.shot_id !== shotId) throw notFound('version');
  const plan = await soundPlan(home, shotId);
  const ids = await inTransaction(pool, async (client) => {
    const again = await beginAnew(client, versionId, 'render', {
      plan,
      ...(request ? { request } : {}),
    });
    if (again.length === 0)
      throw new ProblemError(409, 'This render is over.', 'Start another one to render what has changed.');
    // What was done of it is of the plan before.
    await client.query(`delete from file where job_id = any($1) and role = 'sums'`, [again]);
    await client.query(
      'update version set plan = $2, request = coalesce($3, request), problem = null where id = $1',
      [versionId, JSON.stringify(plan), request ? JSON.stringify(request) : null],
    );
    return again;
  });
  for (const id of ids) {
    await queue.offer('long', id);
    await announce(pool, JOB_CHANNEL, id);
  }
  await announce(pool, SHOT_CHANNEL, shotId);
}

/** Cancels all frames of a version that are not over. */
export async function cancelRender(home: JobHome, shotId: string, versionId: string): Promise<void> {
  const version = await versionById(home.pool, versionId);
  if (version?.shot_id !== shotId) throw notFound('version');
  if (await cancelJobsOf(home.pool, versionId, 'render')) await settleVersion(home, shotId, versionId);
}
