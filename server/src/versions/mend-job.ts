import { Readable } from 'node:stream';
import { MendError, mendFile, type Mending } from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { frameNumbers, VersionError } from '@zesty-crow/core/version';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { retireFile, storeFile } from '../files/store.ts';
import { jobById, waits } from '../queue/jobs.ts';
import { defineJob, JobError } from '../queue/kind.ts';
import { VERSION_FILES } from './file-kinds.ts';
import { openVersion } from './open-version.ts';
import { openable } from './versions.ts';

/** JSON schema of what is mended, and how. */
export const MENDING_SCHEMA = {
  type: 'object',
  additionalProperties: false,
  required: ['what', 'layer'],
  properties: {
    what: { type: 'string', minLength: 1, maxLength: 60 },
    layer: { type: 'string', minLength: 1, maxLength: 255 },
    numbers: { type: 'object', maxProperties: 20, additionalProperties: { type: 'number' } },
  },
} as const;

/**
 * Writes new files of a version in which a fault is put right, a file a frame. They are out of sight until all are there;
 * then they take the places of the old ones, which are kept, and the version is read again.
 */
export const mendJob = defineJob<{ retired: string[] }>({
  kind: 'mend',
  lane: 'short',
  minutes: 600,

  async run(job, { pool, settings, signal, progress }) {
    const versionId = job.version_id!;
    const mending = job.input as unknown as Mending;
    const { files } = await openable(pool, versionId);
    const numbers = frameNumbers(files);
    const frames = numbers.length ? numbers : [undefined];
    const retired: string[] = [];
    const added: string[] = [];
    const written = new Set<string>();
    let [said, saved, left] = ['', 0, 0];
    for (const [i, number] of frames.entries()) {
      signal.throwIfAborted();
      progress(i / frames.length, frames.length > 1 ? `Writing frame ${number}` : 'Writing a new file');
      const frame = await openVersion(pool, versionId, settings.pictureMemory, number);
      const made = await mendFile(frame, mending, { zlib: nodeZlib, signal }).catch((error: unknown) => {
        if (!(error instanceof MendError || error instanceof VersionError)) throw error;
        // A frame without that pass is as it was; if none has it, the reason is told.
        said ||= error.message;
        left++;
        return undefined;
      });
      if (!made) continue;
      const old = files.find(
        (f) =>
          f.role === 'picture' &&
          f.name === made.replaces &&
          (f.frame === (number ?? null) || f.frame === null),
      )!;
      // A file without a number belongs to every frame.
      if (written.has(old.id)) continue;
      written.add(old.id);
      const { mediaType } = VERSION_FILES.get('exr')!;
      const now = await storeFile(
        pool,
        {
          shotId: job.shot_id,
          versionId,
          jobId: job.id,
          arriving: true,
          role: 'picture',
          name: made.name,
          mediaType,
          ...(old.frame === null ? {} : { frame: old.frame }),
        },
        Readable.from([Buffer.from(made.bytes.buffer, made.bytes.byteOffset, made.bytes.byteLength)]),
      );
      retired.push(old.id);
      added.push(now.id);
      saved += old.size - now.size;
      said = made.done;
    }
    if (retired.length === 0) throw new JobError(said);
    const size =
      mending.what === 'slim' ? ` ${Math.round(saved / 1000).toLocaleString('en')} kB were saved.` : '';
    return {
      message: `${said}${size}${left ? ` ${left} frame(s) stayed as they are.` : ''}`,
      result: { retired, added },
      details: { retired },
    };
  },

  async finish(client, job, { retired }) {
    for (const file of retired) await retireFile(client, job.version_id!, file, true);
  },

  async after({ pool, queue }, job) {
    await announce(pool, SHOT_CHANNEL, job.shot_id);
    if ((await jobById(pool, job.id))?.state !== 'done') return;
    if (!(await waits(pool, job.version_id!, 'ingest', null)))
      await queue.enqueue(pool, {
        kind: 'ingest',
        shotId: job.shot_id,
        versionId: job.version_id!,
        input: {},
      });
  },
});
