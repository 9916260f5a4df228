import { createHash } from 'node:crypto';
import {
  momentOf,
  outlineOf,
  parsePlan,
  rosterOf,
  stage,
  surroundingsOf,
  type Plan,
  type ProbeFigures,
  type RenderRequest,
} from '@zesty-crow/core';
import { sceneAt } from '@zesty-crow/core/scene';
import { probeScene } from '@zesty-crow/core/node';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import type { Pool } from '../database/pool.ts';
import { defineJob, JobError } from '../queue/kind.ts';
import { anyRunning, isAtWork } from '../queue/jobs.ts';
import type { Queue } from '../queue/queue.ts';
import { openStoredScene } from '../scenes/scenes.ts';
import { sumsKey } from './sums.ts';

interface Tried {
  key: string;
  figures: ProbeFigures | null;
}

/** Tries for two seconds how fast and how noisy a frame of the plan is, so that its render is estimated by itself. */
export const probeJob = defineJob<Tried>({
  kind: 'probe',
  lane: 'short',
  minutes: 5,

  async run(job, { pool, settings, signal, progress }) {
    const {
      plan: stored,
      request,
      key,
    } = job.input as unknown as { plan: Plan; request: RenderRequest; key: string };
    progress(0, 'Trying the render');
    const plan = parsePlan(stored);
    const file = await openStoredScene(pool, job.shot_id);
    if (!file) throw new JobError('This shot has no scene to render.');
    const surroundings = surroundingsOf(file, plan);
    const posed = {
      ...sceneAt(file, momentOf(plan, plan.render.first), []),
      ...(surroundings ? { surroundings } : {}),
    };
    const staged = stage(posed, plan, rosterOf(outlineOf(file), plan), request);
    const figures = await probeScene(staged.scene, staged.settings, {
      signal,
      memory: settings.jobMemory,
      ...(settings.renderThreads ? { threads: settings.renderThreads } : {}),
    });
    return { message: 'Tried', details: { key, figures: figures ?? null } };
  },

  async finish(client, job, { key, figures }) {
    await client.query(
      `insert into probe (shot_id, key, figures) values ($1, $2, $3) on conflict (shot_id, key) do update set figures = excluded.figures`,
      [job.shot_id, key, figures ? JSON.stringify(figures) : null],
    );
    // The latest few are enough: one goes back to what one had before.
    await client.query(
      `delete from probe where shot_id = $1 and key not in (select key from probe where shot_id = $1 order by created desc limit 20)`,
      [job.shot_id],
    );
  },

  after: async ({ pool }, job) => void (await announce(pool, SHOT_CHANNEL, job.shot_id)),
});

/** What a trial of a plan has told; one is begun where there was none, and nothing comes back until it is over. */
export async function probeOf(
  { pool, queue }: { pool: Pool; queue: Queue },
  shotId: string,
  plan: Plan,
  request: RenderRequest,
): Promise<ProbeFigures | undefined> {
  const { key: frame, width, height } = await sumsKey(pool, shotId, plan, request, plan.render.first);
  const key = createHash('sha256').update(`${frame} ${width} ${height}`).digest('hex');
  const { rows } = await pool.query<{ figures: ProbeFigures | null }>(
    'select figures from probe where shot_id = $1 and key = $2',
    [shotId, key],
  );
  if (rows[0]) return rows[0].figures ?? undefined;
  // Beside a render it would tell half the speed, and slow that down.
  if (await anyRunning(pool, 'render')) return undefined;
  if (!(await isAtWork(pool, shotId, 'probe')))
    await queue.enqueue(pool, { kind: 'probe', shotId, input: { plan, request, key } });
  return undefined;
}
