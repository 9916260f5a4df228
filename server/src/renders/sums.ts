import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import { RENDERER, type Plan, type RenderRequest } from '@zesty-crow/core/plan';
import { packSums, unpackSums, type SumsKey, type TileSums } from '@zesty-crow/core/render';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import type { Client, Pool } from '../database/pool.ts';
import { inTransaction } from '../database/pool.ts';
import { fileById, filesOf, readFileBytes, storeFileIn } from '../files/store.ts';
import { JobError } from '../queue/kind.ts';
import type { JobRow } from '../queue/jobs.ts';

/** What a frame's samples depend on, besides their number: the scene, the plan, what was asked for, the renderer. */
export async function sumsKey(
  pool: Pool,
  shotId: string,
  { render, ...plan }: Plan,
  request: RenderRequest,
  frame: number,
): Promise<SumsKey> {
  const roles = ['scene', 'scene-part'] as const;
  const files = (await Promise.all(roles.map((role) => filesOf(pool, { shotId, role })))).flat();
  const { doneWhen: _w, samples: _s, noise: _n, minutes: _m, ...rest } = render;
  // Wishes say what comes first, not what comes.
  const { wishes: _, output: _o, ...things } = plan;
  const text = JSON.stringify([RENDERER, files.map((f) => f.sha256).sort(), things, rest, request, frame]);
  return {
    width: render.width,
    height: render.height,
    key: createHash('sha256').update(text).digest('hex'),
  };
}

/** The sums that a job goes on with. Throws a {@link JobError} if they are not there any more, or not the right ones. */
export async function readSums(pool: Pool, fileId: string, key: SumsKey): Promise<TileSums[]> {
  const file = await fileById(pool, fileId);
  if (file?.role !== 'sums') throw new JobError('What samples are added to was deleted.');
  try {
    return unpackSums(await readFileBytes(pool, file), key);
  } catch (error) {
    throw new JobError(`No samples can be added: ${(error as Error).message} Render it again.`);
  }
}

/** Stores the sums of a frame out of sight, unless they are larger than what is kept; says whether it did. */
export async function storeSums(
  pool: Pool,
  job: JobRow,
  frame: number,
  tiles: readonly TileSums[],
  key: SumsKey,
  limit: number,
  name = 'sums',
): Promise<boolean> {
  const parts = [...packSums(tiles, key)];
  if (parts.reduce((n, p) => n + p.length, 0) > limit) return false;
  await inTransaction(pool, (client) =>
    storeFileIn(
      client,
      {
        shotId: job.shot_id,
        versionId: job.version_id!,
        jobId: job.id,
        role: 'sums',
        frame,
        name,
        mediaType: 'application/octet-stream',
        arriving: true,
      },
      Readable.from(parts),
    ),
  );
  return true;
}

/** Of each frame the sums of its last render are kept. */
export const dropEarlierSums = (client: Client, job: Pick<JobRow, 'id' | 'version_id'>, frame: number) =>
  client.query(
    `delete from file where version_id = $1 and role = 'sums' and frame = $2 and job_id is distinct from $3`,
    [job.version_id, frame, job.id],
  );

/** Deletes what a version keeps for more samples; its pictures stay. */
export async function dropSums(pool: Pool, shotId: string, versionId: string): Promise<void> {
  await pool.query(
    `delete from file where version_id = $1 and role = 'sums' and name = 'sums' and not arriving`,
    [versionId],
  );
  await announce(pool, SHOT_CHANNEL, shotId);
}

/** Takes the pictures of earlier jobs out of a version that a job makes once more. */
export const retireEarlier = (client: Client, job: Pick<JobRow, 'id' | 'version_id' | 'frame'>) =>
  client.query(
    `update file f set retired = now() where f.version_id = $1 and f.role = 'picture' and f.retired is null
       and not f.arriving and f.job_id is distinct from $2 and exists (select 1 from file n
         where n.job_id = $2 and n.arriving and n.role = 'picture' and n.name = f.name and n.frame is not distinct from f.frame)`,
    [job.version_id, job.id],
  );
