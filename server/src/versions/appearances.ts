import { frameNumbers } from '@zesty-crow/core/version';
import { INDEX_FORMAT } from '@zesty-crow/core/idindex';
import type { Appearances } from '../contract.ts';
import type { Pool } from '../database/pool.ts';
import { takePrepared, sumsOf } from './prepared.ts';
import type { Area } from './prepare-frame.ts';
import { openable } from './versions.ts';

/** In which frames of a version the members of a layer appear, as far as the frames have been read beforehand. */
export async function appearancesOf(pool: Pool, versionId: string, layer: string): Promise<Appearances> {
  const version = await openable(pool, versionId);
  const frames = frameNumbers(version.files);
  const result: Appearances = { frames, known: [], members: {} };
  for (const frame of frames) {
    const bytes = await takePrepared(pool, {
      versionId,
      sums: sumsOf(version, frame),
      layer,
      what: 'areas',
      format: INDEX_FORMAT,
    });
    if (!bytes) continue;
    result.known.push(frame);
    for (const [id] of JSON.parse(bytes.toString()) as Area[]) (result.members[id] ??= []).push(frame);
  }
  return result;
}
