import { parsePlan, type Plan, type RenderRequest } from '@zesty-crow/core/plan';
import { announce, JOB_CHANNEL, SHOT_CHANNEL } from '../database/announce.ts';
import { inTransaction } from '../database/pool.ts';
import { planHistory } from '../history/documents.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { anyActive, baseOf, insertJob } from '../queue/jobs.ts';
import type { JobHome } from '../queue/kind.ts';
import { filesOf } from '../files/store.ts';
import { refuseUnfinished, versionById } from '../versions/versions.ts';
import type { RenderInput } from './render-job.ts';

/** Samples a pixel that a version was rendered with; undefined where that is not known. */
export async function samplesOf(pool: JobHome['pool'], versionId: string): Promise<number | undefined> {
  const { rows } = await pool.query<{ samples: number | null }>(
    `select max((m->>'samples')::float8) as samples from version, jsonb_array_elements(measured) m
     where id = $1 and not (m->>'idsOnly')::boolean`,
    [versionId],
  );
  return rows[0]?.samples ?? undefined;
}

/**
 * Adds samples to the frames of a version whose sums were kept, until they are done as the shot's plan says now. The
 * version stays as it is until they are.
 */
export async function addSamples(home: JobHome, shotId: string, versionId: string): Promise<void> {
  const { pool, queue } = home;
  const version = await versionById(pool, versionId);
  if (version?.shot_id !== shotId) throw notFound('version');
  refuseUnfinished(version);
  const state = await planHistory.state(pool, shotId);
  const { rows } = await pool.query<{ plan: Plan; request: RenderRequest }>(
    'select plan, request from version where id = $1 and plan is not null and request is not null',
    [versionId],
  );
  const frames = (await filesOf(pool, { versionId })).filter((f) => f.role === 'sums' && f.name === 'sums');
  const [stored] = rows;
  if (!stored || !state || frames.length === 0)
    throw new ProblemError(
      409,
      'No samples can be added.',
      `What v${version.number} was made of is not kept any more. Render it again with more samples.`,
    );
  const { doneWhen, samples, noise, minutes } = state.body.render;
  const there = (await samplesOf(pool, versionId)) ?? 0;
  if (doneWhen === 'samples' && samples <= there)
    throw new ProblemError(
      409,
      `v${version.number} has ${Math.floor(there)} samples a pixel already.`,
      'Ask for more of them, for a time, or for less noise.',
    );
  const before = parsePlan(stored.plan);
  const plan = { ...before, render: { ...before.render, doneWhen, samples, noise, minutes } };
  const base = await baseOf(pool, versionId);
  const jobs = await inTransaction(pool, async (client) => {
    if (await anyActive(client, versionId, 'render'))
      throw new ProblemError(409, 'This version is being rendered.', 'Wait until it is done.');
    await client.query('update version set plan = $2 where id = $1', [versionId, JSON.stringify(plan)]);
    const ids: string[] = [];
    for (const { id: sums, frame } of frames) {
      const input: RenderInput = { plan, request: stored.request, sums, ...(base ? { base } : {}) };
      const job = { kind: 'render', shotId, versionId, input, ...(frame === null ? {} : { frame }) };
      ids.push((await insertJob(client, job)).id);
    }
    return ids;
  });
  for (const id of jobs) {
    await queue.offer('long', id);
    await announce(pool, JOB_CHANNEL, id);
  }
  await announce(pool, SHOT_CHANNEL, shotId);
}
