import type { Client, Pool } from '../database/pool.ts';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { frameNumbers } from '@zesty-crow/core/version';
import { countJobs, type JobRow } from '../queue/jobs.ts';
import { defineJob } from '../queue/kind.ts';
import type { VersionSummary } from '../contract.ts';
import { dropOldSnapshots } from '../renders/snapshots.ts';
import { takeFiles, type Taking } from './take-files.ts';
import { enqueueCheck } from './check-job.ts';
import { openVersion, summarise } from './open-version.ts';
import { keepOverall } from './overall.ts';
import { enqueuePrepare } from './prepare-job.ts';
import { keepLayer, keepPreviews } from './prepare-frame.ts';
import { sumsOf } from './prepared.ts';
import { openable } from './versions.ts';

interface Read {
  width: number;
  height: number;
  summary: VersionSummary;
}

/** Reads the files of a version: size, layers, findings, preview. Then it can be worked on. */
export const readVersionJob = defineJob<Read>({
  kind: 'ingest',
  lane: 'short',
  minutes: 20,

  async run(job, { pool, settings, progress, signal }) {
    const versionId = job.version_id!;
    const { files: taken } = job.input as Partial<Taking>;
    if (taken)
      await takeFiles(
        { pool, settings },
        { shotId: job.shot_id, versionId },
        job.input as unknown as Taking,
        signal,
        (share) =>
          progress(0.1 * share, `Fetching file ${Math.floor(share * taken.length) + 1} of ${taken.length}`),
      );
    progress(0.1, 'Reading the file');
    const open = await openVersion(pool, versionId, settings.pictureMemory);
    progress(0.3, 'Making the preview');
    const version = await openable(pool, versionId);
    const [first] = frameNumbers(version.files);
    const home = {
      pool,
      shotId: job.shot_id,
      versionId,
      frame: first ?? null,
      sums: sumsOf(version, first),
      limit: settings.preparedLimit,
    };
    await keepPreviews(home, await open.picture({ signal }), job.id);
    const cast = await open.cast({
      signal,
      onProgress: (share) => progress(0.4 + 0.6 * share, 'Reading the IDs'),
    });
    for (const layer of cast) await keepLayer(home, layer, true);
    const summary = await summarise(open, cast);
    return {
      message: `Read: ${cast.length} ID layer(s)`,
      details: { width: open.width, height: open.height, summary },
    };
  },

  async finish(client, job, { width, height, summary }) {
    await client.query(
      `delete from file where version_id = $1 and role in ('preview', 'preview-large') and job_id is distinct from $2`,
      [job.version_id, job.id],
    );
    await client.query(
      `update version set state = 'ready', problem = $5, width = $2, height = $3, summary = $4,
         unfinished = case when unfinished = 'growing' and $6 then null else unfinished end
       where id = $1`,
      [
        job.version_id,
        width,
        height,
        JSON.stringify(summary),
        await framesLost(client, job.version_id!),
        job.input['last'] === true,
      ],
    );
  },

  // One that could be worked on before still can.
  async failed(client, job, message) {
    // What was being rendered may have had another snapshot meanwhile; that is read, too.
    if (await grows(client, job)) return;
    await client.query(
      `update version set problem = $2, unfinished = null,
         state = case when state = 'ready' then state else 'failed' end where id = $1`,
      [job.version_id, message],
    );
  },

  async after({ pool, queue }, job) {
    await giveUpReading(pool, job.version_id!);
    await dropOldSnapshots(pool, job.version_id!);
    const { rows } = await pool.query<{ frames: number }>(
      `select count(distinct f.frame)::int as frames from version v join file f on f.version_id = v.id
       where v.id = $1 and v.state = 'ready' and v.unfinished is distinct from 'growing' and f.role = 'picture'
       group by v.id`,
      [job.version_id],
    );
    await keepOverall(pool, job.version_id!);
    // A version that is not ready has no row, and one that grows will be read again.
    const [ready] = rows;
    if (ready) {
      const version = { id: job.version_id!, shot_id: job.shot_id };
      await enqueueCheck({ pool, queue }, version);
      if (ready.frames > 1) await enqueuePrepare({ pool, queue }, version);
    }
    await announce(pool, SHOT_CHANNEL, job.shot_id);
  },
});

/** Whether a version is being rendered and will be read once more. */
async function grows(client: Client, job: Pick<JobRow, 'version_id' | 'input'>): Promise<boolean> {
  if (job.input['last'] === true) return false;
  const { rowCount } = await client.query(`select 1 from version where id = $1 and unfinished = 'growing'`, [
    job.version_id,
  ]);
  return rowCount === 1;
}

/** A version that was to be read and is not any more: the artist cancelled it. */
async function giveUpReading(pool: Pool, versionId: string): Promise<void> {
  const { under_way, done } = await countJobs(pool, versionId, 'ingest');
  if (under_way || done) return;
  await pool.query(
    `update version set state = 'failed', problem = 'Reading was cancelled.' where id = $1 and state = 'reading'`,
    [versionId],
  );
}

/** Frames of a rendered version that are missing, in words; null if none is. */
async function framesLost(client: Client, versionId: string): Promise<string | null> {
  const { failed, cancelled, message } = await countJobs(client, versionId, 'render');
  if (failed) return `${failed} frame(s) could not be rendered: ${message}`;
  return cancelled ? `${cancelled} frame(s) were cancelled.` : null;
}
