import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { differs, FolderError, nextNumbered, writeWhole, type Placing } from '@zesty-crow/core/node';
import {
  earlierFiles,
  isManifest,
  listName,
  manifestOf,
  sumsText,
  type Existing,
  type Parcel,
} from '@zesty-crow/core/parcels';
import type { ParcelRunFile } from '../contract.ts';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { fileBytes } from '../files/store.ts';
import { defineJob, JobError } from '../queue/kind.ts';
import { folderWithin } from './allowed-folder.ts';
import { filesOfRun, runBody, type RunBody } from './runs.ts';

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

/**
 * Writes the lists of some files beside them. A list of ours is added to, so that it tells of all that lies there; beside
 * somebody else's file of that name, and where nothing may be replaced, ours has a number.
 */
async function writeLists(
  root: string,
  existing: Existing,
  body: RunBody,
  files: readonly ParcelRunFile[],
  placing: Placing,
): Promise<void> {
  const put = async (name: string, text: string) => {
    const bytes = Buffer.from(text);
    const sum = { size: bytes.length, sha256: createHash('sha256').update(bytes).digest('hex') };
    await writeWhole(join(root, name), sum, Readable.from([bytes]), placing);
  };
  for (let number: number | undefined; ; number = (number ?? 1) + 1) {
    const names = { manifest: listName('manifest', number), sums: listName('sums', number) };
    const old = await readFile(join(root, names.manifest), 'utf8').catch(() => undefined);
    // One that was written since this job began is of its own earlier try.
    const sums = await stat(join(root, names.sums)).catch(() => undefined);
    const taken = sums !== undefined && sums.mtime < placing.since;
    const ours = old === undefined ? !taken : isManifest(old);
    const fresh = old === undefined && !taken;
    if (!ours || (existing === 'stop' && !fresh)) continue;
    const earlier = earlierFiles(old, files, (name) => existsSync(join(root, name)));
    // Its sums first: a folder with a manifest is whole.
    await put(names.sums, sumsText([...earlier, ...files]));
    return put(names.manifest, manifestOf(body, new Date(), files, earlier));
  }
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
    const parcels = body.parcels.filter((p) => p.folder);
    const filesIn = (own: readonly Parcel[]) => all.filter((f) => own.some((p) => p.id === f.parcel));
    const total = filesIn(parcels).length;
    let [done, written] = [0, 0];
    const filled = new Set<string>();
    try {
      for (const { folder, existing, own } of placesOf(parcels)) {
        const within = await folderWithin(settings.handOver, folder);
        const root = existing === 'number' ? await nextNumbered(within) : within;
        const files = filesIn(own);
        filled.add(root);
        const placing = { root: within, writer: job.id, since: new Date(job.created) };
        if (existing === 'stop')
          for (const file of files)
            if (await differs(join(root, file.name), file))
              throw new JobError(
                `${join(root, file.name)} is there already and another file. Nothing was written. Give the files other names, or let them be replaced.`,
              );
        for (const file of files) {
          signal.throwIfAborted();
          progress(done++ / total, `Writing ${file.name}`);
          if (file.fileId === null)
            throw new JobError(`${file.name} is not there any more. Make the parcel again.`);
          const bytes = fileBytes(pool, { id: file.fileId, size: file.size });
          if (await writeWhole(join(root, file.name), file, bytes, placing)) written++;
        }
        await writeLists(root, existing, body, files, placing);
      }
    } catch (error) {
      if (error instanceof FolderError) throw new JobError(error.message);
      throw error;
    }
    const there = written < total ? `, ${total - written} were there already` : '';
    const files = written === 1 ? '1 file' : `${written} files`;
    return { message: `${files} written to ${[...filled].join(', ')}${there}`, details: null };
  },
  after: async ({ pool }, job) => void (await announce(pool, SHOT_CHANNEL, job.shot_id)),
});
