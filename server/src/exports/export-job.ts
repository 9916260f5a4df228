import { Readable } from 'node:stream';
import { parseChangeList } from '@zesty-crow/core/changes';
import { exportKind } from '@zesty-crow/core/exports';
import { nodeZlib } from '@zesty-crow/core/node';
import type { ExportInput } from '../contract.ts';
import { fillPicture, storeFile } from '../files/store.ts';
import { defineJob, JobError } from '../queue/kind.ts';
import { openVersion, ownCrew } from '../versions/open-version.ts';

/** Writes a final file at full resolution. */
export const exportJob = defineJob<null>({
  kind: 'export',
  lane: 'short',
  minutes: 60,

  async run(job, { pool, settings, progress, signal }) {
    const stored = job.input as unknown as ExportInput;
    // It may have waited through an update.
    const input = { ...stored, list: parseChangeList(stored.list) };
    const kind = exportKind(input.kind);
    if (!kind) throw new JobError('This kind of export is not known any more. Ask for it again.');
    progress(0.02, 'Reading the version');
    const open = await openVersion(pool, job.version_id!, settings.pictureMemory, input.frame);
    const picture = await open.all({
      signal,
      onProgress: (done) => progress(0.02 + 0.28 * done, 'Reading the version'),
    });
    progress(0.3, 'Computing');
    const notes: string[] = [];
    const bytes = await kind.write(picture, input, {
      zlib: nodeZlib,
      signal,
      crew: ownCrew(),
      readPicture: (picture) => fillPicture(pool, picture),
      maxMemory: settings.pictureMemory,
      onNote: (note) => notes.push(note),
      onProgress: (done) => progress(0.3 + 0.5 * done, 'Computing'),
    });
    signal.throwIfAborted();
    progress(0.9, 'Saving');
    const file = await storeFile(
      pool,
      {
        shotId: job.shot_id,
        jobId: job.id,
        role: 'result',
        name: `${input.name}.${kind.ending}`,
        mediaType: kind.mediaType,
        arriving: true,
      },
      Readable.from([Buffer.from(bytes)]),
    );
    return {
      message: [`${file.name} is ready`, ...notes].join('. '),
      result: { fileId: file.id, name: file.name, size: file.size },
      details: null,
    };
  },
});
