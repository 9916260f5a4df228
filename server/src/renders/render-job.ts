import { Readable } from 'node:stream';
import {
  duration,
  fileName,
  outlineOf,
  percent,
  planCost,
  sampledLike,
  rosterOf,
  type FrameFile,
  type Measured,
  type Plan,
  type RenderRequest,
} from '@zesty-crow/core';
import { Attention, renderBand, renderFrame, type Look, type RenderProgress } from '@zesty-crow/core/node';
import { parsePlan } from '@zesty-crow/core/plan';
import type { RenderAttention } from '../contract.ts';
import { announce, JOB_CHANNEL } from '../database/announce.ts';
import { inTransaction, type Pool } from '../database/pool.ts';
import { storeFileIn } from '../files/store.ts';
import { dropLook, type JobRow } from '../queue/jobs.ts';
import { defineJob, JobError } from '../queue/kind.ts';
import { openStoredScene } from '../scenes/scenes.ts';
import { openVersion } from '../versions/open-version.ts';
import { shownPng, smallPng } from '../versions/preview.ts';
import { noteMeasured } from './renders.ts';
import { bandName, sumsOfBands, type BandOfFrame } from './bands.ts';
import { readAgain, settleVersion } from './settle.ts';
import { dropEarlierSums, readSums, retireEarlier, storeSums, sumsKey } from './sums.ts';
import { publishSnapshot, retireSnapshot, type Snapshot } from './snapshots.ts';

/** Pixels across a look at a frame while it is rendered. */
const LOOK_WIDTH = 960;

/** What one frame's job needs to know; it is a copy, so that later edits of the plan do not reach it. */
export interface RenderInput {
  plan: Plan;
  request: RenderRequest;
  base?: string;
  /** What there is so far can be seen in its version, and worked on. */
  snapshots?: boolean;
  /** Only this band of the frame is rendered. */
  band?: BandOfFrame;
  /** Group of bands of which the frame is made. */
  join?: string;
  /** File of the sums of an earlier render of the frame, to which samples are added. */
  sums?: string;
}

interface Rendered {
  /** Only a band is done: there is nothing to see of it yet. */
  band?: boolean;
  frame: number;
  measured?: Measured;
  idsOnly: boolean;
}

/** Stores the files of a frame out of sight, and says their ids. */
async function storeFrame(
  pool: Pool,
  job: JobRow,
  plan: Plan,
  cameras: readonly string[],
  frame: number,
  files: readonly FrameFile[],
): Promise<string[]> {
  const versionId = job.version_id!;
  const { rows } = await pool.query<{ name: string; number: number }>(
    'select s.name, v.number from version v join shot s on s.id = v.shot_id where v.id = $1',
    [versionId],
  );
  if (!rows[0]) throw new JobError('The version was deleted while it was rendered.');
  const naming = {
    shot: rows[0].name,
    version: rows[0].number,
    frame,
    camera: plan.render.camera || (cameras[0] ?? 'camera'),
  };
  // Passes that join a version without frame numbers have none, either.
  const { rowCount: unnumbered } = await pool.query(
    `select 1 from file where version_id = $1 and role = 'picture' and frame is null and not arriving`,
    [versionId],
  );
  return inTransaction(pool, async (client) => {
    const ids: string[] = [];
    for (const { layers, bytes } of files) {
      const stored = await storeFileIn(
        client,
        {
          shotId: job.shot_id,
          versionId,
          jobId: job.id,
          role: 'picture',
          ...(unnumbered ? {} : { frame }),
          name: fileName(plan.output, layers, naming),
          mediaType: 'image/x-exr',
          arriving: true,
        },
        Readable.from([Buffer.from(bytes)]),
      );
      ids.push(stored.id);
    }
    return ids;
  });
}

/** How far a render is, for the line under the picture. */
function progressInWords({ samples, noise, secondsLeft }: RenderProgress, ending: number): string {
  return [
    `${samples} ${samples === 1 ? 'sample' : 'samples'} a pixel`,
    ...(noise === undefined ? [] : [`noise ${percent(noise)}`]),
    ...(secondsLeft === undefined ? [] : [`${duration(secondsLeft + ending)} left`]),
  ].join(', ');
}

/** Renders one frame of a version. Its files appear together with its end: a frame is never lost or done twice. */
export const renderJob = defineJob<Rendered>({
  kind: 'render',
  lane: 'long',
  minutes: 20 * 60,

  async run(job, { pool, settings, signal, keep, progress, look, attend, publish }) {
    const { plan: stored, request, base, snapshots, sums, band, join } = job.input as unknown as RenderInput;
    // It may have waited through an update.
    const plan = parsePlan(stored);
    const frame = job.frame ?? 1;
    progress(0, 'Reading the scene');
    const file = await openStoredScene(pool, job.shot_id);
    if (!file) throw new JobError('This shot has no scene to render.');
    const outline = outlineOf(file);
    const roster = rosterOf(outline, plan);
    const under =
      request.what === 'patch' && base
        ? (await (await openVersion(pool, base, settings.pictureMemory, frame)).all()).image
        : undefined;
    // After the last sample the passes are made and packed.
    const ending = planCost(plan, roster, [], 1)
      .passes.slice(1)
      .reduce((n, p) => n + p.seconds, 0);
    const key = await sumsKey(pool, job.shot_id, plan, request, frame);
    const joined = join === undefined ? undefined : await sumsOfBands(pool, job.version_id!, join, key);
    const before = joined?.sums ?? (sums ? await readSums(pool, sums, key) : undefined);
    const started = performance.now();
    const attention = new Attention();
    attend((wanted) => attention.turnTo(wanted as RenderAttention));
    const store = (files: readonly FrameFile[]) => storeFrame(pool, job, plan, outline.cameras, frame, files);
    const control = {
      signal,
      keep,
      attention,
      memory: settings.jobMemory,
      ...(settings.renderThreads ? { threads: settings.renderThreads } : {}),
      ...(before ? { sums: before } : {}),
      onProgress: (p: RenderProgress) => progress(p.share * 0.97, progressInWords(p, ending)),
      onLook: ({ planes, pass }: Look) =>
        look((pass === undefined ? smallPng : shownPng)(planes, LOOK_WIDTH)),
    };
    if (band) {
      const film = await renderBand(file, plan, roster, request, frame, band, control);
      await storeSums(pool, job, frame, film.tiles, key, Infinity, bandName(band));
      const seconds = (performance.now() - started) / 1000;
      return {
        message: `Part ${band.index + 1} of ${band.of} rendered in ${duration(seconds)}`,
        details: { band: true, frame, idsOnly: request.what === 'ids' },
      };
    }
    const rendered = await renderFrame(
      file,
      // All of its samples are there.
      joined ? sampledLike(plan, 1) : plan,
      roster,
      request,
      frame,
      {
        ...control,
        ...(joined ? { spent: joined.spent } : {}),
        // Of a sequence the first frame is what one begins with; the others come whole.
        ...(snapshots && frame === plan.render.first
          ? {
              onSnapshot: async ({ files, measured }: { files: FrameFile[]; measured: Measured }) =>
                publish({ frame, files: await store(files), measured } satisfies Snapshot),
            }
          : {}),
      },
      under,
    );
    progress(0.97, 'Saving');
    const faults = rendered.findings.filter((f) => f.severity === 'error');
    if (faults.length) throw new JobError(faults.map((f) => f.message).join(' '));
    // The last look is the frame as it is stored.
    if (request.what !== 'ids') look(smallPng(rendered.open.planes, LOOK_WIDTH));
    const seconds = (performance.now() - started) / 1000;
    await store(rendered.files);
    await storeSums(pool, job, frame, rendered.film.tiles, key, settings.sumsLimit);
    return {
      message: `${keep.aborted ? 'Stopped and kept' : 'Rendered'} in ${duration(seconds)}, ${rendered.measured.samples.toFixed(0)} samples a pixel`,
      details: { frame, measured: rendered.measured, idsOnly: request.what === 'ids' },
    };
  },

  async publish(home, job, details) {
    if (!(await publishSnapshot(home.pool, job, details as Snapshot))) return;
    await readAgain(home, job.shot_id, job.version_id!);
    await announce(home.pool, JOB_CHANNEL, job.id);
  },

  async beforeFiles(client, job) {
    await retireSnapshot(client, job.id);
    await retireEarlier(client, job);
  },

  async finish(client, job, { band, frame, measured, idsOnly }) {
    if (band || !measured) return;
    await noteMeasured(client, job.version_id!, frame, measured, 'sums' in job.input);
    await dropEarlierSums(client, job, frame);
    // A look at ID passes alone is no picture; now that of the version is shown again.
    if (idsOnly) await dropLook(client, job.id);
  },

  after: (home, job) => settleVersion(home, job.shot_id, job.version_id!),
});
