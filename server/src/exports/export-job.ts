import { Readable } from 'node:stream';
import {
  applyChanges,
  asFloats,
  ChangeMask,
  maskToExr,
  maskToPng,
  pictureToPng,
  tilesAcross,
  withCorrected,
  writeExr,
  WRITABLE_COMPRESSIONS,
  type OpenPicture,
} from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import type { ExportInput } from '../contract.ts';
import { storeFile } from '../files/store.ts';
import { openVersion } from '../versions/open-version.ts';
import { defineJob, JobError } from '../queue/kind.ts';

function exportMask(open: OpenPicture, input: ExportInput): Uint8Array {
  const change = input.list.changes.find((c) => c.id === input.changeId);
  if (!change) throw new JobError('The change whose mask was asked for is not in the list any more.');
  const { width, height } = open;
  const mask = new ChangeMask(open.cast, {
    pixels: width * height,
    tiles: tilesAcross(width) * tilesAcross(height),
  });
  mask.update(change.who);
  const { header } = open.image;
  return input.format === 'png'
    ? maskToPng(mask.coverage, header)
    : maskToExr(mask.coverage, header, { zlib: nodeZlib });
}

function exportPicture(open: OpenPicture, input: ExportInput, progress: (done: number) => void): Uint8Array {
  if (!open.beauty) throw new JobError('This version holds no picture, only data passes.');
  const { planes } = applyChanges(open, input.list.changes, (done) => progress(0.3 + 0.4 * done));
  const { header, channels } = open.image;
  if (input.format === 'png') {
    const alpha = channels.find((c) => c.name === open.beauty!.a);
    return pictureToPng(planes, header, input.depth, alpha && asFloats(alpha));
  }
  const compression = WRITABLE_COMPRESSIONS.includes(header.compression) ? header.compression : 'zip';
  return writeExr({ ...header, channels: withCorrected(open, planes) }, { compression, zlib: nodeZlib });
}

/** Writes a final file at full resolution. */
export const exportJob = defineJob<null>({
  kind: 'export',
  lane: 'short',
  minutes: 60,

  async run(job, { pool, settings, progress, signal }) {
    const input = job.input as unknown as ExportInput;
    progress(0.02, 'Reading the version');
    const open = await openVersion(pool, job.version_id!, settings.pictureMemory, input.frame);
    signal.throwIfAborted();
    progress(0.3, 'Computing');
    const bytes =
      input.what === 'mask'
        ? exportMask(open, input)
        : exportPicture(open, input, (d) => progress(d, 'Computing'));
    signal.throwIfAborted();
    progress(0.9, 'Saving');
    const file = await storeFile(
      pool,
      {
        shotId: job.shot_id,
        jobId: job.id,
        role: 'result',
        name: `${input.name}.${input.format}`,
        mediaType: input.format === 'png' ? 'image/png' : 'image/x-exr',
        arriving: true,
      },
      Readable.from([Buffer.from(bytes)]),
    );
    return {
      message: `${file.name} is ready`,
      result: { fileId: file.id, name: file.name, size: file.size },
      details: null,
    };
  },
});
