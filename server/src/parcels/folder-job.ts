import { FolderError, HandOver } from '@zesty-crow/core/node';
import { manifestOf, type Existing, type Parcel } from '@zesty-crow/core/parcels';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { fileBytes } from '../files/store.ts';
import { defineJob, JobError } from '../queue/kind.ts';
import { folderWithin } from './allowed-folder.ts';
import { failedParcels, filesOfRun, runBody } from './runs.ts';

/** Folders that parcels go to, each once, with the parcels that go there in the same way. */
function placesOf(parcels: readonly Parcel[]) {
  const places = new Map<string, { folder: string; existing: Existing; own: Parcel[] }>();
  for (const parcel of parcels) {
    const { folder, existing = 'replace' } = parcel;
    const key = JSON.stringify([folder, existing]);
    const place = places.get(key) ?? { folder, existing, own: [] };
    place.own.push(parcel);
    places.set(key, place);
  }
  return [...places.values()];
}

/** Puts the files of a run into the folders that its parcels name, with a list of their sums beside them. */
export const placeJob = defineJob<null>({
  kind: 'place',
  lane: 'folders',
  minutes: 600,

  async run(job, { pool, settings, progress, signal }) {
    const { run } = job.input as { run: string };
    const body = await runBody(pool, run);
    if (!body) throw new JobError('This run is not there any more.');
    const all = await filesOfRun(pool, run);
    const failed = await failedParcels(pool, run);
    const wanted = body.parcels.filter((p) => p.folder);
    // Of a parcel of which nothing may be missing, it is all or nothing.
    const held = wanted.filter((p) => p.strict && failed.has(p.id));
    const parcels = wanted.filter((p) => !held.includes(p));
    const filesIn = (own: readonly Parcel[]) => all.filter((f) => own.some((p) => p.id === f.parcel));
    const total = filesIn(parcels).length;
    let [done, written] = [0, 0];
    const filled = new Set<string>();
    try {
      for (const { folder, existing, own } of placesOf(parcels)) {
        const within = await folderWithin(settings.handOver, folder);
        const over = await HandOver.into(within, { existing, writer: job.id, since: new Date(job.created) });
        const files = filesIn(own);
        filled.add(over.root);
        await over.check(files);
        for (const file of files) {
          signal.throwIfAborted();
          progress(done++ / total, `Writing ${file.name}`);
          if (file.fileId === null)
            throw new JobError(`${file.name} is not there any more. Make the parcel again.`);
          if (await over.put(file, fileBytes(pool, { id: file.fileId, size: file.size }))) written++;
        }
        await over.finish(files, (earlier) => manifestOf(body, new Date(), files, { earlier }));
      }
    } catch (error) {
      if (error instanceof FolderError) throw new JobError(error.message);
      throw error;
    }
    if (held.length)
      throw new JobError(
        `Nothing was written of ${held.map((p) => `“${p.title}”`).join(', ')}: a frame of it could not be made, and nothing of it may be missing.`,
      );
    const there = written < total ? `, ${total - written} were there already` : '';
    const files = written === 1 ? '1 file' : `${written} files`;
    return { message: `${files} written to ${[...filled].join(', ')}${there}`, details: null };
  },
  after: async ({ pool }, job) => void (await announce(pool, SHOT_CHANNEL, job.shot_id)),
});
