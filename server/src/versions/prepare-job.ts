import { frameNumbers, openFrame } from '@zesty-crow/core/version';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import type { Pool } from '../database/pool.ts';
import { readFileBytes } from '../files/store.ts';
import { waits } from '../queue/jobs.ts';
import { defineJob } from '../queue/kind.ts';
import type { Queue } from '../queue/queue.ts';
import { keepOverall } from './overall.ts';
import { prepareFrame } from './prepare-frame.ts';
import { sumsOf } from './prepared.ts';
import { openable } from './versions.ts';

/** Milliseconds between two announcements of pictures that are there. */
const TELLING = 2000;

/**
 * Makes beforehand what opening would have to compute: previews and areas of all frames and the index of the first one,
 * or all of it for the job's own frame, which somebody has opened. What is there already is left; one frame that cannot
 * be read stops no other.
 */
export const prepareJob = defineJob<null>({
  kind: 'prepare',
  lane: 'quiet',
  minutes: 600,

  async run(job, { pool, settings, signal, progress }) {
    const versionId = job.version_id!;
    const version = await openable(pool, versionId);
    const { files, interpretation } = version;
    const numbers: (number | undefined)[] = frameNumbers(files);
    const all = numbers.length ? numbers : [undefined];
    // A frame that somebody has opened is one frame: the others are not read again for it.
    const frames = job.frame === null ? all : all.filter((n) => n === job.frame);
    let unread = 0;
    let told = performance.now();
    for (const [i, number] of frames.entries()) {
      signal.throwIfAborted();
      progress(i / frames.length, 'Preparing');
      const home = {
        pool,
        shotId: job.shot_id,
        versionId,
        frame: number ?? null,
        sums: sumsOf(version, number),
        limit: settings.preparedLimit,
      };
      const previews = !files.some((f) => f.role === 'preview-large' && f.frame === home.frame);
      const index = number === all[0] || job.frame !== null;
      try {
        await prepareFrame(
          home,
          () =>
            openFrame(files, number, (file) => readFileBytes(pool, file), {
              maxMemory: settings.pictureMemory,
              interpretation,
              signal,
            }),
          { previews, index },
        );
      } catch (error) {
        signal.throwIfAborted();
        if ((error as Error).name !== 'VersionError') throw error;
        unread++;
      }
      // Pictures of frames appear while the others are made.
      if (previews && performance.now() - told > TELLING) {
        told = performance.now();
        await announce(pool, SHOT_CHANNEL, job.shot_id);
      }
    }
    await keepOverall(pool, versionId);
    await announce(pool, SHOT_CHANNEL, job.shot_id);
    return { message: unread ? `${unread} frame(s) cannot be read` : 'Prepared', details: null };
  },
});

/** Has a version prepared, unless that waits to be done anyway. */
export async function enqueuePrepare(
  { pool, queue }: { pool: Pool; queue: Queue },
  version: { id: string; shot_id: string },
  frame?: number,
): Promise<void> {
  if (await waits(pool, version.id, 'prepare', frame ?? null)) return;
  await queue.enqueue(pool, {
    kind: 'prepare',
    shotId: version.shot_id,
    versionId: version.id,
    ...(frame === undefined ? {} : { frame }),
    input: {},
  });
}

/** Versions that were stored before there was anything to prepare. */
export async function prepareOldVersions(pool: Pool, queue: Queue): Promise<void> {
  const { rows } = await pool.query<{ id: string; shot_id: string }>(
    `select v.id, v.shot_id from version v join shot s on s.id = v.shot_id
     where v.state = 'ready' and s.deleted is null
       and not exists (select 1 from file where version_id = v.id and role = 'preview-large')`,
  );
  for (const version of rows) await enqueuePrepare({ pool, queue }, version);
}
