import { createHash } from 'node:crypto';
import {
  contentOf,
  emptyParcelList,
  framesRead,
  lackingStates,
  mendedIn,
  namingFaults,
  parcelKind,
  framesOfParcel,
  variantsOf,
  type Parcel,
  type ParcelShot,
  type ParcelState,
} from '@zesty-crow/core/parcels';
import { frameNumbers } from '@zesty-crow/core/version';
import { inTransaction, type Pool } from '../database/pool.ts';
import { filesOf } from '../files/store.ts';
import { changeHistory, parcelHistory, planHistory } from '../history/documents.ts';
import { ProblemError } from '../http/problem.ts';
import { insertJob, type ToldJob } from '../queue/jobs.ts';
import type { Queue } from '../queue/queue.ts';
import { findShot } from '../shots/shots.ts';
import { sumsOf } from '../versions/prepared.ts';
import { openable } from '../versions/versions.ts';
import { endRun, insertFiles, insertRun, knownFiles, runBody, type RunBody, type RunFile } from './runs.ts';

/** A version with all that its parcels are made from. */
export interface ParcelHome {
  shotId: string;
  versionId: string;
  shot: ParcelShot;
  parcels: Parcel[];
  /** One sum for the pixels of a frame. */
  sumOf(frame: number | undefined): string;
  /** @param back as it was so many mendings ago, of everything that it is made with */
  keyOf(parcel: Parcel, state: ParcelState, back?: number): string;
}

/** Reads the saved documents of a version's shot. @param ids only these parcels; all of them by default */
export async function parcelHome(
  pool: Pool,
  version: { id: string; shot_id: string; number: number },
  ids?: readonly string[],
): Promise<ParcelHome> {
  const shotId = version.shot_id;
  const { rows } = await pool.query<{ name: string }>('select name from shot where id = $1', [
    await findShot(pool, shotId),
  ]);
  const name = rows[0]!.name;
  const list = (await changeHistory.state(pool, shotId))!.body;
  const all = (await parcelHistory.state(pool, shotId))!.body.parcels;
  const parcels = ids ? all.filter((p) => ids.includes(p.id)) : all;
  const files = await openable(pool, version.id);
  const ofScene = (parcel: Parcel) => parcelKind(parcel.kind)?.reads === 'scene';
  // The scene and its plan are asked for only where a parcel is made of them.
  const scene = parcels.some(ofScene) ? await sceneSum(pool, shotId) : '';
  const frames = frameNumbers(files.files);
  const shot = { shot: name, version: version.number, list, frames };
  const sums = new Map<number | undefined, string>();
  const sumOf = (frame: number | undefined) => {
    const known = sums.get(frame) ?? sumsOf(files, frame);
    sums.set(frame, known);
    return known;
  };
  return {
    shotId,
    versionId: version.id,
    shot,
    parcels,
    sumOf,
    keyOf: (parcel, state, back) =>
      createHash('sha256')
        .update(
          [
            contentOf(parcel, shot, state, back),
            ...framesRead(parcel, shot, state).map(sumOf),
            ...(ofScene(parcel) ? [scene] : []),
          ].join(' '),
        )
        .digest('hex'),
  };
}

/** One sum for a shot's scene and its plan. */
async function sceneSum(pool: Pool, shotId: string): Promise<string> {
  const roles = ['scene', 'scene-part'] as const;
  const files = (await Promise.all(roles.map((role) => filesOf(pool, { shotId, role })))).flat();
  const plan = await planHistory.state(pool, shotId);
  return JSON.stringify([files.map((f) => f.sha256), plan?.body]);
}

/** What of a parcel is there already, and what has to be made: a frame with its variants. */
export interface ParcelWork {
  there: RunFile[];
  /** States of which there are files that were made before numbers were mended, and of what those are. */
  outdated: { states: number; mended: string[] };
  toMake: { frame: number | undefined; variants: { variant: string; key: string }[] }[];
}

export async function workOf(pool: Pool, home: ParcelHome, parcel: Parcel): Promise<ParcelWork> {
  const { shot, keyOf } = home;
  const variants = variantsOf(parcel, shot.list);
  const frames = framesOfParcel(parcel, shot);
  const keys = frames.map((frame) => variants.map((variant) => keyOf(parcel, { frame, variant })));
  const known = await knownFiles(pool, home.shotId, keys.flat());
  const work: ParcelWork = { there: [], outdated: { states: 0, mended: [] }, toMake: [] };
  frames.forEach((frame, i) => {
    const missing = variants.flatMap((variant, k) => {
      const key = keys[i]![k]!;
      const files = known.get(key);
      if (!files) return [{ variant, key }];
      work.there.push(...files.map((f) => ({ ...f, parcel: parcel.id, variant })));
      return [];
    });
    if (missing.length) work.toMake.push({ frame, variants: missing });
  });
  work.outdated = await outdatedOf(pool, home, parcel, work);
  return work;
}

/** Which of what has to be made is there with the numbers of earlier mendings. */
async function outdatedOf(
  pool: Pool,
  { shotId, shot, keyOf }: ParcelHome,
  parcel: Parcel,
  { toMake }: Pick<ParcelWork, 'toMake'>,
): Promise<ParcelWork['outdated']> {
  const states = toMake.flatMap(({ frame, variants }) => variants.map(({ variant }) => ({ frame, variant })));
  const earlier = states.flatMap((state) => {
    const mended = mendedIn(parcel, shot, state);
    const times = Math.max(0, ...mended.map((m) => m.revision - 1));
    const keys = Array.from({ length: times }, (_, i) => keyOf(parcel, state, i + 1));
    return keys.length ? [{ mended, keys }] : [];
  });
  if (earlier.length === 0) return { states: 0, mended: [] };
  const known = await knownFiles(
    pool,
    shotId,
    earlier.flatMap((e) => e.keys),
  );
  const found = earlier.filter((e) => e.keys.some((key) => known.has(key)));
  return {
    states: found.length,
    mended: [...new Set(found.flatMap((e) => e.mended.map((m) => m.label)))],
  };
}

const cannotBeMade = ({ title }: Parcel, why: string) =>
  new ProblemError(400, `“${title}” cannot be made.`, why);

/** Begins a run: what is there already is taken, and a job is queued for each frame of which something is not. */
export async function startRun(pool: Pool, queue: Queue, home: ParcelHome): Promise<string> {
  const { shotId, versionId, shot, parcels } = home;
  if (parcels.length === 0) throw new ProblemError(400, 'There is no parcel to make.', 'Add a parcel first.');
  const works: ({ parcel: Parcel } & ParcelWork)[] = [];
  for (const parcel of parcels)
    try {
      works.push({ parcel, ...(await workOf(pool, home, parcel)) });
    } catch (error) {
      throw cannotBeMade(parcel, error instanceof Error ? error.message : String(error));
    }
  for (const [id, fault] of namingFaults(parcels, shot, (p) => p.folder))
    throw cannotBeMade(
      parcels.find((p) => p.id === id)!,
      fault,
    );
  for (const parcel of parcels.filter((p) => p.strict)) {
    const [missing] = lackingStates(parcel, shot);
    if (missing !== undefined) throw cannotBeMade(parcel, missing);
  }
  const body: RunBody = { ...shot, parcels, parcelsVersion: emptyParcelList().version };
  // Frame by frame: a frame is read once for all of its parcels.
  const frames = new Map<
    number | undefined,
    { parcel: Parcel; variants: ParcelWork['toMake'][number]['variants'] }[]
  >();
  for (const { parcel, toMake } of works)
    for (const { frame, variants } of toMake)
      frames.set(frame, [...(frames.get(frame) ?? []), { parcel, variants }]);
  const inOrder = [...frames].sort(([a = 0], [b = 0]) => a - b);
  // All or nothing: a run of which only some jobs were recorded would be taken for made when those are.
  const { run, jobs } = await inTransaction(pool, async (client) => {
    const run = await insertRun(client, { shotId, versionId, body });
    for (const { there } of works) await insertFiles(client, run, there);
    const jobs: ToldJob[] = [];
    for (const [frame, own] of inOrder)
      for (const { parcel, variants } of own)
        jobs.push(
          await insertJob(client, {
            kind: 'parcel',
            shotId,
            versionId,
            ...(frame === undefined ? {} : { frame }),
            input: { run, parcel: parcel.id, variants },
          }),
        );
    return { run, jobs };
  });
  await queue.offerAll(pool, jobs);
  if (works.every((w) => w.toMake.length === 0)) await runEnded({ pool, queue }, run, { shotId, versionId });
  return run;
}

/** Once nothing of a run is left to be made, what goes into a folder is taken there. */
export async function runEnded(
  { pool, queue }: { pool: Pool; queue: Queue },
  run: string,
  { shotId, versionId }: { shotId: string; versionId: string },
): Promise<void> {
  if (!(await endRun(pool, run))) return;
  const body = await runBody(pool, run);
  if (body?.parcels.some((p) => p.folder))
    await queue.enqueue(pool, { kind: 'place', shotId, versionId, input: { run } });
}
