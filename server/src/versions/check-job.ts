import { inspectFrame } from '@zesty-crow/core';
import type { Finding } from '@zesty-crow/core/findings';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import type { Pool } from '../database/pool.ts';
import { waits } from '../queue/jobs.ts';
import { defineJob } from '../queue/kind.ts';
import type { Queue } from '../queue/queue.ts';
import { openVersion } from './open-version.ts';

/**
 * Looks at every pixel of a version's first frame for faults. It comes after reading, because a version can be worked on
 * long before that is done.
 */
export const checkJob = defineJob<{ findings: Finding[] }>({
  kind: 'check',
  lane: 'quiet',
  minutes: 60,

  async run(job, { pool, settings, signal, progress }) {
    progress(0, 'Looking for faults');
    const frame = await openVersion(pool, job.version_id!, settings.pictureMemory);
    const cast = await frame.cast({ signal });
    const stats = await frame.stats({
      signal,
      onProgress: (share) => progress(0.5 * share, 'Looking for faults'),
    });
    const { findings } = await inspectFrame(frame, cast, stats, signal);
    return { message: `${findings.length} finding(s)`, details: { findings } };
  },

  async finish(client, job, { findings }) {
    await client.query(
      `update version set summary = jsonb_set(summary, '{findings}', $2::jsonb) where id = $1 and summary is not null`,
      [job.version_id, JSON.stringify(findings)],
    );
  },

  async after({ pool }, job) {
    await announce(pool, SHOT_CHANNEL, job.shot_id);
  },
});

/** Has a version looked at for faults, unless that waits to be done anyway. */
export async function enqueueCheck(
  { pool, queue }: { pool: Pool; queue: Queue },
  version: { id: string; shot_id: string },
): Promise<void> {
  if (await waits(pool, version.id, 'check', null)) return;
  await queue.enqueue(pool, { kind: 'check', shotId: version.shot_id, versionId: version.id, input: {} });
}
