import { Readable } from 'node:stream';
import { DEFAULT_SETTINGS, readGlb, type RenderSettings } from '@zesty-crow/core';
import { nodeZlib, renderScene } from '@zesty-crow/core/node';
import { filesOf, readFileBytes, storeFile } from '../files/store.ts';
import { createVersion } from '../shots/shots.ts';
import { openExrBytes, Unusable } from './describe.ts';
import { finishVersion } from './ingest.ts';
import type { JobRunner } from './run.ts';

/** What a render is asked for; the rest stands in the scene. */
export interface RenderInput {
  width: number;
  height: number;
  samples: number;
}

/** Renders a shot's scene into its next version. The version appears only when it is whole. */
export const render: JobRunner = async (job, { pool, settings, signal, progress }) => {
  const input = job.input as unknown as RenderInput;
  const [file] = await filesOf(pool, { shotId: job.shot_id, role: 'scene' });
  if (!file) throw new Unusable('This shot has no scene to render.');
  progress(0, 'Reading the scene');
  const scene = await readGlb(await readFileBytes(pool, file));
  const wanted: RenderSettings = { ...DEFAULT_SETTINGS, ...input, bounces: 2 };
  const started = performance.now();
  const film = await renderScene(scene, wanted, {
    signal,
    ...(settings.renderThreads ? { threads: settings.renderThreads } : {}),
    onProgress: (done) => {
      const left = ((performance.now() - started) / 1000 / done) * (1 - done);
      progress(done * 0.97, `Rendering, ${Math.ceil(left)} s left`);
    },
  });
  progress(0.97, 'Saving');
  const bytes = film.toExr(scene, { zlib: nodeZlib });
  const open = openExrBytes(bytes, new Map());
  const version = await createVersion(pool, job.shot_id, 'render', 'reading');
  await storeFile(
    pool,
    {
      shotId: job.shot_id,
      versionId: version.id,
      role: 'picture',
      name: `${file.name.replace(/\.\w+$/, '')}_v${version.number}.exr`,
      mediaType: 'image/x-exr',
    },
    Readable.from([Buffer.from(bytes)]),
  );
  await finishVersion(pool, job.shot_id, version.id, open);
  const seconds = (performance.now() - started) / 1000;
  return {
    message: `Rendered v${version.number} in ${seconds.toFixed(0)} s`,
    result: { version: version.number },
  };
};
