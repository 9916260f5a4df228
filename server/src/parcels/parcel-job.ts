import { Readable } from 'node:stream';
import {
  asksFrames,
  emptyInFrame,
  lackingInFrame,
  makeParcel,
  type ParcelFrame,
} from '@zesty-crow/core/parcels';
import { parseChangeList } from '@zesty-crow/core/changes';
import { nodePaper, nodeZlib } from '@zesty-crow/core/node';
import { announce, SHOT_CHANNEL } from '../database/announce.ts';
import { fillPicture, storeFile } from '../files/store.ts';
import { planHistory } from '../history/documents.ts';
import { defineJob, JobError } from '../queue/kind.ts';
import { openStoredScene } from '../scenes/scenes.ts';
import { openVersion, ownCrew } from '../versions/open-version.ts';
import { withFrame, type FrameAtHand } from './frame-at-hand.ts';
import { insertFiles, runBody, type RunFile } from './runs.ts';
import { runEnded } from './start-run.ts';

interface Input {
  run: string;
  parcel: string;
  /** Variants that are to be made, each with the sum of all that it is made from. */
  variants: { variant: string; key: string }[];
}

/** Makes what comes of one frame of a parcel, reads it again, and keeps it; a frame that is done is not done twice. */
export const parcelJob = defineJob<{ run: string; files: RunFile[] }>({
  kind: 'parcel',
  lane: 'short',
  minutes: 120,

  async run(job, { pool, settings, progress, signal }) {
    const { run, parcel: id, variants } = job.input as unknown as Input;
    const body = await runBody(pool, run);
    const parcel = body?.parcels.find((p) => p.id === id);
    if (!body || !parcel) throw new JobError('This run is not there any more.');
    const shot = { ...body, list: parseChangeList(body.list) };
    progress(0.02, 'Reading the version');
    const frame = job.frame ?? undefined;
    const files: RunFile[] = [];
    const notes = new Set<string>();
    const makeAll = async (own: FrameAtHand) => {
      const opened: ParcelFrame = {
        frame: own.frame,
        at: (number) => openVersion(pool, job.version_id!, settings.pictureMemory, number),
        open: () => own.all(signal),
      };
      if (asksFrames(parcel)) {
        const picture = await own.all(signal);
        const missing = [
          ...lackingInFrame(picture, parcel, shot, frame),
          ...emptyInFrame(picture, parcel, shot, frame),
        ];
        if (parcel.strict && missing.length) throw new JobError(missing.join(' '));
        for (const sentence of missing) notes.add(sentence);
      }
      for (const [i, { variant, key }] of variants.entries()) {
        const part = (done: number) => 0.05 + (0.95 * (i + done)) / variants.length;
        const made = await makeParcel(
          parcel,
          opened,
          shot,
          { variant, frame },
          {
            zlib: nodeZlib,
            paper: nodePaper,
            signal,
            crew: ownCrew(),
            readPicture: (picture) => fillPicture(pool, picture),
            maxMemory: settings.pictureMemory,
            readScene: async () => {
              const file = await openStoredScene(pool, job.shot_id);
              return file && { file, plan: (await planHistory.state(pool, job.shot_id))!.body };
            },
            onNote: (note) => notes.add(note),
            onProgress: (done) => progress(part(0.8 * done), parcel.title),
          },
        );
        signal.throwIfAborted();
        for (const { name, mediaType, bytes, frame: ownFrame } of made) {
          const stored = await storeFile(
            pool,
            { shotId: job.shot_id, jobId: job.id, role: 'result', name, mediaType, arriving: true },
            Readable.from([Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength)]),
          );
          files.push({
            parcel: id,
            variant,
            frame: ownFrame ?? frame ?? null,
            key,
            name,
            fileId: stored.id,
            size: stored.size,
            sha256: stored.sha256,
            reused: false,
          });
        }
      }
    };
    await withFrame(pool, job.version_id!, settings.pictureMemory, frame, makeAll);
    const count = files.length === 1 ? '1 file' : `${files.length} files`;
    const told = [`${parcel.title}: ${count}${notes.size ? '.' : ''}`, ...notes];
    return { message: told.join(' '), details: { run, files } };
  },

  async finish(client, _job, { run, files }) {
    await insertFiles(client, run, files);
  },

  async after({ pool, queue }, job) {
    const { rows } = await pool.query<{ run: string }>(`select input->>'run' as run from job where id = $1`, [
      job.id,
    ]);
    if (rows[0])
      await runEnded({ pool, queue }, rows[0].run, { shotId: job.shot_id, versionId: job.version_id! });
    await announce(pool, SHOT_CHANNEL, job.shot_id);
  },
});
