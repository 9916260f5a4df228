import { Readable } from 'node:stream';
import { duration, fileName, rosterOf, outlineOf, type Plan, type RenderRequest } from '@zesty-crow/core';
import { renderFrame } from '@zesty-crow/core/node';
import { inTransaction, type Pool } from '../database/pool.ts';
import { storeFileIn } from '../files/store.ts';
import { noteMeasured } from './renders.ts';
import { settleVersion } from './settle.ts';
import { openStoredScene } from '../scenes/scenes.ts';
import { openVersion, Unusable } from '../versions/open-version.ts';
import { smallPng } from '../versions/preview.ts';
import { noteLook } from './looks.ts';
import type { JobRow } from '../queue/jobs.ts';
import type { JobRunner } from '../queue/runner.ts';

/** Pixels across a look at a frame while it is rendered. */
const LOOK_WIDTH = 960;

/** What one frame's job needs to know; it is a copy, so that later edits of the plan do not reach it. */
export interface RenderInput {
  plan: Plan;
  request: RenderRequest;
  base?: string;
}

/** Renders one frame of a version. The frame appears only when it is whole, and only once. */
export const render: JobRunner = async (job, { pool, settings, signal, keep, progress }) => {
  const { plan, request, base } = job.input as unknown as RenderInput;
  const frame = job.frame ?? 1;
  const versionId = job.version_id!;
  const done = await finishedBefore(pool, job, request);
  if (done) return { message: 'This frame was finished already' };
  progress(0, 'Reading the scene');
  const file = await openStoredScene(pool, job.shot_id);
  if (!file) throw new Unusable('This shot has no scene to render.');
  const outline = outlineOf(file);
  const roster = rosterOf(outline, plan);
  const under = request.what === 'patch' && base ? (await openVersion(pool, base, frame)).image : undefined;
  const started = performance.now();
  const rendered = await renderFrame(
    file,
    plan,
    roster,
    request,
    frame,
    {
      signal,
      keep,
      ...(settings.renderThreads ? { threads: settings.renderThreads } : {}),
      onProgress: (share, samples) => {
        const left = ((performance.now() - started) / 1000 / Math.max(share, 1e-3)) * (1 - share);
        progress(share * 0.97, `${samples} samples a pixel, ${duration(left)} left`);
      },
      onLook: (planes) => void noteLook(pool, job.id, smallPng(planes, LOOK_WIDTH)).catch(() => undefined),
    },
    under,
  );
  progress(0.97, 'Saving');
  const faults = rendered.findings.filter((f) => f.severity === 'error');
  if (faults.length) throw new Unusable(faults.map((f) => f.message).join(' '));
  // The last look is the frame as it is stored; one that cannot be kept must not cost the frame.
  if (request.what !== 'ids')
    await noteLook(pool, job.id, smallPng(rendered.open.planes, LOOK_WIDTH)).catch(() => undefined);
  const seconds = (performance.now() - started) / 1000;
  const message = `${keep.aborted ? 'Stopped and kept' : 'Rendered'} in ${duration(seconds)}, ${rendered.measured.samples.toFixed(0)} samples a pixel`;
  const { rows } = await pool.query<{ name: string; number: number }>(
    'select s.name, v.number from version v join shot s on s.id = v.shot_id where v.id = $1',
    [versionId],
  );
  if (!rows[0]) throw new Unusable('The version was deleted while it was rendered.');
  const naming = {
    shot: rows[0].name,
    version: rows[0].number,
    frame,
    camera: plan.render.camera || (outline.cameras[0] ?? 'camera'),
  };
  // Passes that join a version without frame numbers have none, either.
  const { rowCount: unnumbered } = await pool.query(
    `select 1 from file where version_id = $1 and role = 'picture' and frame is null`,
    [versionId],
  );
  // Files, figures and the end of the job stand or fall together: a frame is never lost or done twice.
  await inTransaction(pool, async (client) => {
    const { rowCount } = await client.query(
      `select 1 from job where id = $1 and state = 'running' for update`,
      [job.id],
    );
    if (!rowCount) throw new Error('Another worker has taken this frame, or it was cancelled.');
    for (const { layers, bytes } of rendered.files)
      await storeFileIn(
        client,
        {
          shotId: job.shot_id,
          versionId,
          jobId: job.id,
          role: 'picture',
          ...(unnumbered ? {} : { frame }),
          name: fileName(plan.output, layers, naming),
          mediaType: 'image/x-exr',
        },
        Readable.from([Buffer.from(bytes)]),
      );
    await noteMeasured(client, versionId, frame, rendered.measured);
    await client.query(
      `update job set state = 'done', progress = 1, message = $2, ended = now(),
         look = case when $3 then 0 else look end
       where id = $1`,
      // A look at ID passes alone is no picture; now that of the version is shown again.
      [job.id, message, request.what === 'ids'],
    );
  });
  await settleVersion(pool, job.shot_id, versionId, request.what === 'ids' ? undefined : rendered.open);
  return { message };
};

/** True if a worker stored this frame and was killed before it could say so. */
async function finishedBefore(pool: Pool, job: JobRow, request: RenderRequest): Promise<boolean> {
  if (request.what === 'ids') {
    const { rowCount } = await pool.query('select 1 from file where job_id = $1', [job.id]);
    return rowCount! > 0;
  }
  const { rowCount } = await pool.query(
    `select 1 from file where version_id = $1 and frame = $2 and role = 'picture'`,
    [job.version_id, job.frame ?? 1],
  );
  return rowCount! > 0;
}
