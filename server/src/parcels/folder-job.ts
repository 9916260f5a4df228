import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { fileBytes } from '../files/store.ts';
import { defineJob, JobError } from '../queue/kind.ts';
import { FolderError, folderWithin, writeWhole } from './folder.ts';
import { manifestOf } from './manifest.ts';
import { filesOfRun, runBody } from './runs.ts';

/** Puts the files of a run into the folders that its parcels name, with a list of their sums beside them. */
export const placeJob = defineJob<null>({
  kind: 'place',
  lane: 'quiet',
  minutes: 600,

  async run(job, { pool, settings, progress, signal }) {
    const { run } = job.input as { run: string };
    const body = await runBody(pool, run);
    if (!body) throw new JobError('This run is not there any more.');
    const all = await filesOfRun(pool, run);
    const parcels = body.parcels.filter((p) => p.folder);
    const total = all.filter((f) => parcels.some((p) => p.id === f.parcel)).length;
    let [done, written] = [0, 0];
    try {
      for (const folder of new Set(parcels.map((p) => p.folder))) {
        const root = await folderWithin(settings.handOver, folder);
        const own = all.filter((f) => parcels.some((p) => p.id === f.parcel && p.folder === folder));
        for (const file of own) {
          signal.throwIfAborted();
          progress(done++ / total, `Writing ${file.name}`);
          if (file.fileId === null)
            throw new JobError(`${file.name} is not there any more. Make the parcel again.`);
          const bytes = fileBytes(pool, { id: file.fileId, size: file.size });
          if (await writeWhole(join(root, file.name), file, bytes)) written++;
        }
        const text = Buffer.from(manifestOf(body, new Date(), own));
        const sum = { size: text.length, sha256: createHash('sha256').update(text).digest('hex') };
        await writeWhole(
          join(root, 'manifest.json'),
          sum,
          (async function* () {
            yield text;
          })(),
        );
      }
    } catch (error) {
      if (error instanceof FolderError) throw new JobError(error.message);
      throw error;
    }
    return { message: `${written} of ${total} files written, the others were there`, details: null };
  },
  after: async ({ pool }, job) => void (await announce(pool, SHOT_CHANNEL, job.shot_id)),
});
