import { Readable } from 'node:stream';
import { castOf, type CastLayer, type Frame, type RgbPlanes } from '@zesty-crow/core';
import { INDEX_FORMAT, packIndex, type IdIndex } from '@zesty-crow/core/idindex';
import { nodeZlib } from '@zesty-crow/core/node';
import type { Pool } from '../database/pool.ts';
import { storeFile } from '../files/store.ts';
import { isPrepared, keepPrepared, type PreparedKey } from './prepared.ts';
import { PREVIEWS } from './preview.ts';

/** A frame of a version, and where what is made of it goes. */
export interface FrameHome {
  pool: Pool;
  shotId: string;
  versionId: string;
  /** Null for a single picture without a number. */
  frame: number | null;
  sums: string;
  /** Bytes that all that is prepared may take. */
  limit: number;
}

const keyOf = (home: FrameHome, layer: string, what: PreparedKey['what']): PreparedKey => ({
  versionId: home.versionId,
  sums: home.sums,
  layer,
  what,
  format: INDEX_FORMAT,
});

/** A member as it is kept of a frame: ID, sum of coverage, pixels, name. */
export type Area = [id: number, coverage: number, pixels: number, name: string];

/** Keeps the areas of a layer's members, and its index if that is wanted. */
export async function keepLayer(home: FrameHome, layer: CastLayer, withIndex: boolean): Promise<void> {
  const areas: Area[] = layer.members.map(({ id, coverage, pixels, name }) => [id, coverage, pixels, name]);
  const { pool, limit } = home;
  await keepPrepared(pool, keyOf(home, layer.name, 'areas'), Buffer.from(JSON.stringify(areas)), limit);
  if (withIndex)
    await keepPrepared(pool, keyOf(home, layer.name, 'index'), packIndex(layer.index, nodeZlib), limit);
}

/** Stores the picture in both small sizes. `jobId`: out of sight until that job has ended well. */
export async function keepPreviews(home: FrameHome, planes: RgbPlanes, jobId?: string): Promise<void> {
  for (const { role, make } of PREVIEWS)
    await storeFile(
      home.pool,
      {
        shotId: home.shotId,
        versionId: home.versionId,
        ...(jobId ? { jobId, arriving: true } : {}),
        ...(home.frame === null ? {} : { frame: home.frame }),
        role,
        name: `${role}.png`,
        mediaType: 'image/png',
      },
      Readable.from([Buffer.from(make(planes))]),
    );
}

/** Makes what is missing of a frame: previews, areas, and indexes if they are wanted. */
export async function prepareFrame(
  home: FrameHome,
  open: () => Promise<Frame>,
  wanted: { previews: boolean; index: boolean },
): Promise<void> {
  const frame = await open();
  if (wanted.previews) await keepPreviews(home, await frame.picture());
  for (const layer of frame.layers) {
    if (!layer.sound) continue;
    const kept = (what: PreparedKey['what']) => isPrepared(home.pool, keyOf(home, layer.name, what));
    if ((await kept('areas')) && (!wanted.index || (await kept('index')))) continue;
    const index: IdIndex = await frame.index(layer);
    await keepLayer(home, castOf(layer, index), wanted.index);
  }
}
