import { Readable } from 'node:stream';
import type { OpenPicture } from '@zesty-crow/core';
import type { Pool } from '../database/pool.ts';
import { storeFile } from '../files/store.ts';
import { openVersion, summarise } from './open-version.ts';
import { preview } from './preview.ts';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import type { JobRunner } from '../queue/runner.ts';

/** Notes size, layers and findings of a version and makes its preview; then it can be worked on. */
export async function finishVersion(
  pool: Pool,
  shotId: string,
  versionId: string,
  open: OpenPicture,
): Promise<void> {
  await storeFile(
    pool,
    { shotId, versionId, role: 'preview', name: 'preview.png', mediaType: 'image/png' },
    Readable.from([Buffer.from(preview(open))]),
  );
  await pool.query(
    `update version set state = 'ready', problem = null, width = $2, height = $3, summary = $4 where id = $1`,
    [versionId, open.width, open.height, JSON.stringify(summarise(open))],
  );
  await announce(pool, SHOT_CHANNEL, shotId);
}

/** Reads the files of a new version. */
export const ingest: JobRunner = async (job, { pool, progress }) => {
  const versionId = job.version_id!;
  try {
    progress(0.1, 'Reading the file');
    const open = await openVersion(pool, versionId);
    progress(0.8, 'Making the preview');
    await finishVersion(pool, job.shot_id, versionId, open);
    return { message: `Read: ${open.cast.length} ID layer(s)` };
  } catch (error) {
    await pool.query(`update version set state = 'failed', problem = $2 where id = $1`, [
      versionId,
      (error as Error).message,
    ]);
    await announce(pool, SHOT_CHANNEL, job.shot_id);
    throw error;
  }
};
